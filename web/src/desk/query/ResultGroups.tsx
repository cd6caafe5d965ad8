import Button from '@mui/material/Button';
import { contract, dayTypes, isReference, written, type ResultColumn, type RowsPicked, type SavedQuery, type Value } from '@bibliona/core';
import { keepPreviousData, useInfiniteQuery, useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { locale } from '../../state/locale.js';
import { useIsNarrow } from '../../ui/narrow.js';
import { Note } from '../../ui/Note.js';
import { Waiting } from '../../ui/Waiting.js';
import { GroupTable } from '../list/GroupTable.js';
import { askedRows } from './picked.js';
import { words } from './QueryFilters.js';
import { wordsIn } from './words.js';

const pageOfGroup = 50;

interface GroupsProps {
  readonly query: SavedQuery;
  readonly columns: readonly ResultColumn[];
  readonly picked: RowsPicked;
}

/** The rows of a query under the values that they share, with counts and sums. */
export function ResultGroups({ query, columns, picked }: GroupsProps) {
  const app = useApp();
  const isNarrow = useIsNarrow();
  const { sort: _, direction: __, ...asked } = askedRows(picked);
  const by = JSON.stringify(picked.by);
  const { data, error } = useQuery({
    queryKey: [...keys.answer(app.id, query.id), 'groups', asked, by],
    queryFn: () => call(contract.readQueryGroups, { params: { app: app.id, query: query.id }, query: { ...asked, by } }),
    placeholderData: keepPreviousData,
  });
  if (error !== null) return <Note kind="bad">{messageOf(error)}</Note>;
  if (data === undefined) return <Waiting />;
  // Of days that are grouped by their months, each row has its own.
  const others = columns.filter((column) => !data.by.includes(column.id) || dayTypes.has(column.type));
  const summed = others.filter((column) => data.sums.includes(column.id));
  // A phone has room for what tells a row apart, and its sums.
  const shown = isNarrow ? [...others.filter((column) => !summed.includes(column)).slice(0, 1), ...summed.slice(0, 2)] : others;
  return (
    <GroupTable
      label={`Rows of ${query.name}`}
      groups={data}
      columns={shown.map((column) => ({ id: column.id, name: column.name, isRight: column.type === 'number', printSum: (sum) => wordsIn(column, sum) }))}
      unit={['row', 'rows']}
      wordsOf={(level, value) => {
        const column = columns.find((each) => each.id === data.by[level]);
        return column === undefined ? '' : words(column, value);
      }}
      rowsOf={(values) => (
        <RowsOfGroup
          query={query}
          columns={columns}
          shown={shown}
          picked={{ ...picked, only: [...picked.only, ...data.by.map((column, i) => ({ column, values: [written(values[i] ?? null)] }))] }}
        />
      )}
    />
  );
}

/** The rows of one group, under its head. */
function RowsOfGroup({ query, columns, shown, picked }: GroupsProps & { readonly shown: readonly ResultColumn[] }) {
  const app = useApp();
  const asked = askedRows(picked);
  const { data, error, isPending, hasNextPage, isFetchingNextPage, fetchNextPage } = useInfiniteQuery({
    queryKey: [...keys.answer(app.id, query.id), 'rows of group', asked],
    queryFn: ({ pageParam }) =>
      call(contract.readQuery, { params: { app: app.id, query: query.id }, query: { ...asked, skip: pageParam, limit: pageOfGroup, count: 'no' } }),
    initialPageParam: 0,
    getNextPageParam: (page, pages) => (page.rows.length < pageOfGroup ? null : pages.length * pageOfGroup),
  });
  const whole = (inner: ReactNode) => (
    <tr>
      <td colSpan={1 + shown.length}>{inner}</td>
    </tr>
  );
  if (error !== null) return whole(<Note kind="bad">{messageOf(error)}</Note>);
  if (isPending) return whole(<span className="q">Loading...</span>);
  const cell = (column: ResultColumn, value: Value): ReactNode =>
    column.table !== null && isReference(value) ? (
      <Link className="lk" to={`/desk/${app.id}/${column.table}/${value.id}`}>
        {value.caption}
      </Link>
    ) : (
      wordsIn(column, value)
    );
  return (
    <>
      {data.pages
        .flatMap((page) => page.rows)
        .map((row, place) => (
          <tr key={row.id ?? `row ${place}`}>
            <td className="first">
              {row.id !== null && (
                <Link className="lk" to={`/desk/${app.id}/${query.table}/${row.id}`} aria-label={`Open record ${row.id}`}>
                  {locale().count(place + 1)}
                </Link>
              )}
            </td>
            {shown.map((column) => (
              <td key={column.id} className={column.type === 'number' ? 'n' : ''}>
                {cell(column, row.cells[columns.indexOf(column)] ?? null)}
              </td>
            ))}
          </tr>
        ))}
      {hasNextPage &&
        whole(
          <Button loading={isFetchingNextPage} onClick={() => void fetchNextPage()}>
            More rows
          </Button>,
        )}
    </>
  );
}
