import { contract, exportFormatNames, exportFormats } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { useParams } from 'react-router';
import { call, messageOf } from '../../state/api.js';
import { useApp, useRights } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { Empty } from '../../ui/Empty.js';
import { PartSeenNote } from '../../ui/PartSeenNote.js';
import { Note } from '../../ui/Note.js';
import { ResultRows } from '../../ui/ResultRows.js';
import { SaveMenu } from '../../ui/SaveMenu.js';
import { Waiting } from '../../ui/Waiting.js';
import { Favourite } from '../Favourite.js';
import { NotHere } from '../NotHere.js';
import { locale } from '../../state/locale.js';

const most = 1000;

/** The answer of a saved query, as far as this person can see what it is made of. */
export default function QueryScreen() {
  const app = useApp();
  const { query: id = '' } = useParams();
  const query = app.design.queries.find((each) => each.id === id);
  const answer = useQuery({
    queryKey: keys.answer(app.id, id),
    queryFn: () => call(contract.readQuery, { params: { app: app.id, query: id }, query: { limit: most } }),
    enabled: query !== undefined,
  });
  const rights = useRights(query?.table ?? '');
  if (query === undefined) return <NotHere what="query" />;
  const { data } = answer;
  const total = data?.ledger.at(-1)?.kept ?? 0;
  return (
    <div className="list-screen">
      <header className="list-head">
        <h1>{query.name}</h1>
        <span className="q" role="status">
          {data !== undefined && `${locale().count(total)} ${total === 1 ? 'row' : 'rows'}`}
          {data !== undefined && total > data.rows.length && `, the first ${locale().count(data.rows.length)} shown`}
          {data?.seen === 'part' && ' · '}
          <PartSeenNote seen={data?.seen} />
        </span>
        <div className="end">
          <Favourite link={{ kind: 'page', page: { kind: 'query', query: query.id } }} />
          {rights.export && (
            <SaveMenu
              files={() =>
                exportFormatNames.map((format) => ({
                  word: exportFormats[format].word,
                  file: { route: 'exportQuery', params: { app: app.id, query: id }, query: { format }, name: `${query.name}.${format}`, rows: total },
                }))
              }
            />
          )}
        </div>
      </header>
      {query.description !== '' && <p className="q query-says">{query.description}</p>}
      {answer.isError && <Note kind="bad">{messageOf(answer.error)}</Note>}
      {answer.isPending && <Waiting />}
      {data !== undefined && data.rows.length === 0 && <Empty title="No records match this query." />}
      {data !== undefined && data.rows.length > 0 && (
        <div className="result-scroll" tabIndex={0} role="group" aria-label={`Rows of ${query.name}`}>
          <ResultRows result={data} table={query.table} order={query.order[0]} />
        </div>
      )}
    </div>
  );
}
