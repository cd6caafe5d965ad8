import { plainList, valuesPicked, written, type Arrangement, type List, type ResultColumn, type SavedQuery, type Selection } from '@bibliona/core';
import { lazy, Suspense, useMemo } from 'react';
import { AppContext, useApp } from '../../state/app.js';
import type { Point } from '../../ui/tiles/point-words.js';
import { Waiting } from '../../ui/Waiting.js';
import { arrangements } from '../list/arrangements.js';
import { RecordSourceContext } from '../list/record-source.js';
import { appWith, asTable, rowsAsRecords } from './as-records.js';
import type { Picking } from './picked.js';
import { ResultGroups } from './ResultGroups.js';

const ChartOfList = lazy(() => import('../list/ListChart.js'));

interface ArrangedProps extends Picking {
  readonly query: SavedQuery;
  readonly columns: readonly ResultColumn[];
  readonly arrangement: Arrangement;
}

/** All rows that are picked, in the order of the query. */
const all: Selection = { search: '', direction: 'up' };

/** The rows of a query on a board, a calendar and the like, as records of a list are. Nothing of them is changed there. */
export function ResultArranged({ query, columns, arrangement, picked, change }: ArrangedProps) {
  const app = useApp();
  const asked = JSON.stringify([columns, picked]);
  const table = useMemo(() => asTable(query, columns), [query, columns]);
  const within = useMemo(() => appWith(app, query, columns, arrangement), [app, query, columns, arrangement]);
  // What is picked is read from the address at each drawing, and is the same as long as it is written the same.
  // oxlint-disable-next-line react-hooks/exhaustive-deps
  const source = useMemo(() => rowsAsRecords(app.id, query, columns, picked), [app.id, query, asked]);
  const list: List = {
    ...plainList,
    id: query.id,
    name: query.name,
    table: query.id,
    roles: [],
    isDefault: true,
    columns: columns.map((column) => column.id),
    arrangement,
  };
  const Arranged = arrangements[arrangement.kind];
  /** A press on a bar leaves its rows alone, and another one brings back the others. */
  const narrow = (column: string, { label }: Point): void => {
    const value = written(label);
    const isIt = valuesPicked(picked.only, column).length === 1 && valuesPicked(picked.only, column)[0] === value;
    const others = picked.only.filter((each) => each.column !== column);
    change({ only: isIt ? others : [...others, { column, values: [value] }] });
  };
  return (
    <Suspense fallback={<Waiting />}>
      <AppContext value={within}>
        <RecordSourceContext value={source}>
          {arrangement.kind === 'chart' ? (
            <div className="list-chart">
              <ChartOfList table={table} list={list} selection={all} onPoint={(point) => narrow(arrangement.by, point)} />
            </div>
          ) : (
            Arranged !== null && <Arranged table={table} list={list} selection={all} />
          )}
        </RecordSourceContext>
      </AppContext>
      {arrangement.kind === 'chart' && <ResultGroups query={query} columns={columns} picked={{ ...picked, by: [arrangement.by] }} />}
    </Suspense>
  );
}
