import '../../look/tiles.css';
import { countShown, kindOf, written, type List, type Table } from '@bibliona/core';
import { messageOf } from '../../state/api.js';
import { useApp, type AppInHand } from '../../state/app.js';
import { Note } from '../../ui/Note.js';
import { chartViews } from '../../ui/tiles/kinds.js';
import type { Point, Series } from '../../ui/tiles/point-words.js';
import { Waiting } from '../../ui/Waiting.js';
import type { ArrangedProps } from './arrangements.js';
import { GroupedRows } from './GroupedRows.js';
import { useSelection } from './selection.js';
import { useGroups } from './use-groups.js';
import { chosenIn, isByMonth, narrowedTo, typeIn } from './values.js';

/** What the records of a list come to, as a chart, and below it by groups that open. A press on a bar narrows the list to it, and again to all. */
export function ListChart({ table, list, selection }: ArrangedProps) {
  const { change } = useSelection(table);
  if (list.arrangement.kind !== 'chart') return null;
  const { by } = list.arrangement;
  const narrow = ({ label }: Point): void => {
    const chosen = written(label);
    const isIt = chosenIn(selection, by).length === 1 && chosenIn(selection, by)[0] === chosen;
    change({ narrowed: narrowedTo(selection, by, isIt ? [] : [chosen]) });
  };
  return (
    <>
      <div className="list-chart">
        <ChartOfList table={table} list={list} selection={selection} onPoint={narrow} />
      </div>
      <GroupedRows table={table} list={list} selection={{ ...selection, by: [by] }} />
    </>
  );
}

/** The chart alone. Over time it is a line, else there are bars. */
export default function ChartOfList(props: ArrangedProps & { readonly onPoint: (point: Point) => void }) {
  const { table, list, selection, onPoint } = props;
  const app = useApp();
  const by = list.arrangement.kind === 'chart' ? [list.arrangement.by] : [];
  const { data, error } = useGroups(table, selection, by);
  if (error !== null) return <Note kind="bad">{messageOf(error)}</Note>;
  if (data === undefined) return <Waiting />;
  const series = seriesOf(app, table, list, data);
  if (series === null) return null;
  if (series.points.length === 0) return <p className="q">No records yet.</p>;
  // A single month is no line.
  const View = chartViews[series.label.type === 'date' && series.points.length > 1 ? 'line' : 'bars'];
  return (
    <>
      <p className="q sm">
        {series.value.name} by {series.label.name}
        {series.more > 0 && ', the first of very many'}
      </p>
      <View answer={series} onPoint={onPoint} />
    </>
  );
}

type Groups = NonNullable<ReturnType<typeof useGroups>['data']>;

/** The points of a chart; null where the list has none for this person. */
function seriesOf(app: AppInHand, table: Table, list: Pick<List, 'arrangement'>, { levels, sums }: Groups): Series | null {
  const { arrangement } = list;
  const label = table.fields.find((field) => arrangement.kind === 'chart' && field.id === arrangement.by);
  const level = levels[1];
  if (arrangement.kind !== 'chart' || label === undefined || level === undefined) return null;
  const at = arrangement.sum === undefined ? -1 : sums.indexOf(arrangement.sum);
  const summed = table.fields.find((field) => field.id === sums[at]);
  return {
    kind: 'series',
    label: { name: label.name, type: isByMonth(app, label) ? 'date' : typeIn(app, label), digits: null, unit: null },
    value:
      summed === undefined
        ? { name: 'Number of records', ...countShown }
        : { name: summed.name, type: 'number', digits: kindOf(summed).digits(summed), unit: kindOf(summed).unit?.(summed) ?? null, isAmount: true },
    points: level.groups.map(({ values: [value = null], count, sums: added }): Point => ({
      label: value,
      value: summed === undefined ? String(count) : (added[at] ?? null),
    })),
    more: level.more ? 1 : 0,
    seen: 'all',
  };
}
