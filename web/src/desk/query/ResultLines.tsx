import Button from '@mui/material/Button';
import { contract, isReference, mostRowsRead, type ResultColumn, type SavedQuery, type Value } from '@bibliona/core';
import { useInfiniteQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { Note } from '../../ui/Note.js';
import { Waiting } from '../../ui/Waiting.js';
import { askedRows, type Picking } from './picked.js';
import { wordsIn } from './words.js';

const pageOfRows = 100;

/** The rows of a query on a phone: each is a few lines, and more come at the end. */
export function ResultLines({ query, picked }: { readonly query: SavedQuery } & Pick<Picking, 'picked'>) {
  const app = useApp();
  const asked = askedRows(picked);
  const { data, error, isPending, hasNextPage, isFetchingNextPage, fetchNextPage } = useInfiniteQuery({
    queryKey: [...keys.answer(app.id, query.id), 'lines', asked],
    queryFn: ({ pageParam }) =>
      call(contract.readQuery, { params: { app: app.id, query: query.id }, query: { ...asked, skip: pageParam, limit: pageOfRows, count: 'no' } }),
    initialPageParam: 0,
    getNextPageParam: (page, pages) => (page.rows.length < pageOfRows || pages.length * pageOfRows >= mostRowsRead ? null : pages.length * pageOfRows),
  });
  if (error !== null) return <Note kind="bad">{messageOf(error)}</Note>;
  if (isPending) return <Waiting />;
  const [first, ...others] = data.pages[0]?.columns ?? [];
  /** A row that is no link itself has links to the records in it. */
  const wordsOf = (column: ResultColumn, value: Value, id: number | null) =>
    id === null && column.table !== null && isReference(value) ? (
      <Link className="lk" to={`/desk/${app.id}/${column.table}/${value.id}`}>
        {value.caption}
      </Link>
    ) : (
      wordsIn(column, value)
    );
  return (
    <>
      <ul className="narrow-rows">
        {data.pages
          .flatMap((page) => page.rows)
          .map((row, i) => {
            const [value = null] = row.cells;
            const lines = (
              <>
                <b>{first === undefined || value === null ? `Row ${i + 1}` : wordsOf(first, value, row.id)}</b>
                {others.map((column, at) => {
                  const further = row.cells[at + 1] ?? null;
                  return (
                    further !== null && (
                      <span key={column.id} className="q">
                        {column.name}: {wordsOf(column, further, row.id)}
                      </span>
                    )
                  );
                })}
              </>
            );
            return (
              <li key={row.id ?? `row ${i}`}>
                {row.id === null ? <div className="line">{lines}</div> : <Link to={`/desk/${app.id}/${query.table}/${row.id}`}>{lines}</Link>}
              </li>
            );
          })}
      </ul>
      {hasNextPage && (
        <Button className="more-rows" variant="outlined" loading={isFetchingNextPage} onClick={() => void fetchNextPage()}>
          More rows
        </Button>
      )}
    </>
  );
}
