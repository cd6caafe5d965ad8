import Button from '@mui/material/Button';
import { PlusIcon } from '@phosphor-icons/react';
import { contract, written, type FormItemOf, type List, type Selection } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense } from 'react';
import { Link, useNavigate } from 'react-router';
import { isAlignedRight } from '../../fields/aligned.js';
import { ChosenLine, hasTones } from '../../fields/ChoiceMark.js';
import { call, messageOf } from '../../state/api.js';
import { useApp, useRights } from '../../state/app.js';
import { useAskedAs } from '../../state/asked-as.js';
import { keys } from '../../state/keys.js';
import { useIsNarrow } from '../../ui/narrow.js';
import { Note } from '../../ui/Note.js';
import { OpenRecord } from '../../ui/OpenRecord.js';
import { Waiting } from '../../ui/Waiting.js';
import { RecordCard } from '../list/RecordCard.js';
import { asked, withSelection } from '../list/selection.js';
import { shownIn } from '../list/shown.js';
import { listedFields, narrowedTo } from '../list/values.js';

// Few lists are charts.
const ChartOfList = lazy(() => import('../list/ListChart.js'));

interface Props {
  readonly item: Pick<FormItemOf<'list'>, 'list' | 'by' | 'rows'>;
  readonly record: number;
}

/** Records of another table that refer to the one in the form, or to one of its rows, as one of their lists shows them: as rows that open, or as its chart. They are added to from here. */
export default function RelatedList({ item, record }: Props) {
  const app = useApp();
  const list = app.design.lists.find((each) => each.id === item.list);
  return list === undefined ? null : <Related key={list.id} {...{ item, record, list }} />;
}

function Related({ item, record, list }: Props & { readonly list: List }) {
  const app = useApp();
  const isNarrow = useIsNarrow();
  const rights = useRights(list.table);
  const table = app.design.tables.find((each) => each.id === list.table);
  const selection: Selection = { list: list.id, search: '', direction: 'up', narrowed: [{ field: item.by, values: [record] }] };
  const navigate = useNavigate();
  const as = useAskedAs();
  const { arrangement } = list;
  const { data, error } = useQuery({
    queryKey: [...keys.table(app.id, list.table), 'related', item.rows, selection],
    queryFn: () => call(contract.readPage, { params: { app: app.id, table: list.table }, query: { ...asked(selection), limit: item.rows }, ...as }),
  });
  if (table === undefined) return null;
  const columns = listedFields(table, list).filter((field) => field.id !== item.by);
  const all = withSelection(`/desk/${app.id}/${table.id}`, selection);
  const to = (id: number | string): string => withSelection(`/desk/${app.id}/${table.id}/${id}`, selection);
  return (
    <section className="related" aria-label={list.name}>
      <header>
        <h2>{list.name}</h2>
        {data !== undefined && data.records.length > 0 && (
          <Link className="lk sm" to={all}>
            {data.next === null ? 'Open the list' : 'See all'}
          </Link>
        )}
        {rights.add && (
          <Button component={Link} to={to('new')} startIcon={<PlusIcon />}>
            Add
          </Button>
        )}
      </header>
      {error !== null && <Note kind="bad">{messageOf(error)}</Note>}
      {data === undefined && error === null && <Waiting />}
      {data?.records.length === 0 && <p className="q sm">None yet.</p>}
      {data !== undefined && data.records.length > 0 && arrangement.kind === 'chart' && (
        <div className="list-chart">
          <Suspense fallback={<Waiting />}>
            <ChartOfList
              table={table}
              list={list}
              selection={selection}
              onPoint={({ label }) =>
                void navigate(withSelection(`/desk/${app.id}/${table.id}`, { ...selection, narrowed: narrowedTo(selection, arrangement.by, [written(label)]) }))
              }
            />
          </Suspense>
        </div>
      )}
      {data !== undefined && data.records.length > 0 && arrangement.kind !== 'chart' && isNarrow && (
        <ul>
          {data.records.map((each) => (
            <li key={each.id}>
              <RecordCard table={table} list={list} record={each} selection={selection} without={[item.by]} most={4} />
            </li>
          ))}
        </ul>
      )}
      {data !== undefined && data.records.length > 0 && arrangement.kind !== 'chart' && !isNarrow && (
        <div className="related-rows" tabIndex={0} role="group" aria-label={`${list.name}, records`}>
          <table className="rows">
            <thead>
              <tr>
                <td />
                {columns.map((field) => (
                  <th key={field.id} scope="col" className={isAlignedRight(app, field) ? 'n' : ''}>
                    {field.name}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {data.records.map((each) => (
                <tr key={each.id}>
                  <td>
                    {each.tone !== undefined && <i className={`row-spine of-row tone-${each.tone.tone}`} title={each.tone.name} />}
                    <OpenRecord table={table} record={each} fields={columns} to={to(each.id)} />
                  </td>
                  {columns.map((field) => (
                    <td key={field.id} className={isAlignedRight(app, field) ? 'n' : ''}>
                      {hasTones(field) ? <ChosenLine field={field} value={each.values[field.id] ?? null} /> : shownIn(field, each)}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </section>
  );
}
