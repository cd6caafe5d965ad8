import { contract, readQuery, tableOf, type QueryResult, type SavedQuery } from '@bibliona/core';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { Empty } from '../../ui/Empty.js';
import { RegisterMark } from '../../ui/Mark.js';
import { Note } from '../../ui/Note.js';
import { ResultRows } from '../../ui/ResultRows.js';
import { Waiting } from '../../ui/Waiting.js';
import type { Spot } from './query-draft.js';
import { locale } from '../../state/locale.js';

const pause = 300;

/** What the query gives on real records, a moment after each edit; the last answer stays while the next is pulled. */
export function useTriedQuery(query: SavedQuery) {
  const app = useApp();
  const [asked, setAsked] = useState(query);
  const problems = useMemo(() => {
    const read = readQuery(query, app.design);
    return read.ok ? [] : read.problems;
  }, [query, app.design]);
  const isWhole = problems.length === 0 && query.columns.length > 0;
  useEffect(() => {
    if (!isWhole) return undefined;
    const timer = setTimeout(() => setAsked(query), pause);
    return () => clearTimeout(timer);
  }, [query, isWhole]);
  const tried = useQuery({
    queryKey: keys.triedQuery(app.id, asked),
    queryFn: () => call(contract.tryQuery, { params: { app: app.id }, body: { query: asked } }),
    placeholderData: keepPreviousData,
    retry: false,
    enabled: asked.columns.length > 0,
  });
  return { problems, tried, isStale: tried.isFetching || asked !== query };
}

/** The result below the query, as far as it is shown while one designs. */
export function QueryProof(props: {
  readonly query: SavedQuery;
  readonly answer: ReturnType<typeof useTriedQuery>;
  readonly spot: Spot;
  /** A press on a heading: it is chosen, and the rows are ordered by it. */
  readonly onHead: (column: string) => void;
}) {
  const { query, spot, onHead } = props;
  const { tried, isStale, problems } = props.answer;
  const { design } = useApp();
  const { data } = tried;
  const total = data?.ledger.at(-1)?.left ?? 0;
  return (
    <div className={isStale ? 'pull stale' : 'pull'}>
      <div className="slug">
        <RegisterMark />
        <b>Proof</b>
        {data !== undefined && query.columns.length > 0 && <Slug data={data} total={total} name={tableOf(design, query.table).name} at={tried.dataUpdatedAt} />}
        {isStale && problems.length === 0 && <span className="q">updating …</span>}
        <span className="end">
          <RegisterMark />
        </span>
      </div>
      <div className="trim bleed" tabIndex={0} role="group" aria-label="Rows of the result">
        <i className="cm tl" />
        <i className="cm tr" />
        {problems.length > 0 && <Note kind="bad">{problems[0]?.message} The rows below are from before the change.</Note>}
        {tried.isError && <Note kind="bad">{messageOf(tried.error)}</Note>}
        {query.columns.length === 0 && <Empty title="No columns yet.">Add a column to see the rows.</Empty>}
        {query.columns.length > 0 && tried.isPending && problems.length === 0 && <Waiting />}
        {query.columns.length > 0 &&
          data !== undefined &&
          data.rows.length === 0 &&
          (data.ledger[0]?.left === 0 ? (
            <Empty title={`No records in ${tableOf(design, query.table).name} yet.`}>Add one on the Desk to see it here.</Empty>
          ) : (
            <Empty title="No rows left.">The ledger above shows which condition removes them.</Empty>
          ))}
        {query.columns.length > 0 && data !== undefined && data.rows.length > 0 && (
          <ResultRows result={data} table={query.table} selected={spot.kind === 'column' ? spot.id : undefined} order={query.order[0]} onHead={onHead} />
        )}
      </div>
    </div>
  );
}

function Slug({ data, total, name, at }: { readonly data: QueryResult; readonly total: number; readonly name: string; readonly at: number }) {
  return (
    <>
      <span>
        {locale().count(data.rows.length)} of {locale().count(total)} {total === 1 ? 'row' : 'rows'}
      </span>
      <span className="q el">
        from {locale().count(data.ledger[0]?.left ?? 0)} records of {name}, updated {locale().time(at)}
      </span>
    </>
  );
}
