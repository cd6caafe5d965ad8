import Button from '@mui/material/Button';
import { contract, publishedRows, type PublishedRows } from '@bibliona/core';
import { useInfiniteQuery } from '@tanstack/react-query';
import { call } from '../../state/api.js';
import { useIsNarrow } from '../../ui/narrow.js';
import { Waiting } from '../../ui/Waiting.js';
import { NothingRead, type PublishedProps } from './NothingThere.js';
import { PublicSheet } from './PublicSheet.js';

/** A list as visitors see it: rows, or slips where it is made of them or there is little room. */
export default function PublishedList({ app, part }: PublishedProps) {
  const isNarrow = useIsNarrow();
  const { data, error, hasNextPage, isFetchingNextPage, fetchNextPage } = useInfiniteQuery({
    queryKey: ['published list', app, part],
    queryFn: ({ pageParam, signal }) => call(contract.readPublishedList, { params: { app, list: part }, query: { after: pageParam }, signal }),
    initialPageParam: 0,
    getNextPageParam: (last, pages) => (last.more ? pages.length * publishedRows : undefined),
    retry: false,
  });
  if (error !== null && data === undefined) return <NothingRead error={error} />;
  const [first] = data?.pages ?? [];
  if (data === undefined || first === undefined) return <Waiting />;
  const rows = data.pages.flatMap((page) => page.rows);
  const { name, columns, arrangement } = first;
  const View = arrangement === 'slips' || isNarrow ? Slips : Rows;
  return (
    <PublicSheet name={name} size="wide">
      {rows.length === 0 ? <p className="q">There is nothing to show at the moment.</p> : <View name={name} columns={columns} rows={rows} />}
      {hasNextPage && (
        <div>
          <Button variant="outlined" loading={isFetchingNextPage} onClick={() => void fetchNextPage()}>
            Show more
          </Button>
        </div>
      )}
    </PublicSheet>
  );
}

type Shown = Pick<PublishedRows, 'name' | 'columns' | 'rows'>;

const Tone = ({ of: tone, className }: { readonly of: Shown['rows'][number]['tone']; readonly className: string }) =>
  tone === null ? null : <i className={`${className} tone-${tone.tone}`} title={tone.name} role="img" aria-label={tone.name} />;

function Rows({ name, columns, rows }: Shown) {
  return (
    <div className="public-rows" tabIndex={0} role="group" aria-label={`${name}, rows`}>
      <table className="rows">
        <thead>
          <tr>
            {columns.map((column) => (
              <th key={column.name} scope="col" className={column.isNumber ? 'n' : ''}>
                {column.name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ cells, tone }, i) => (
            <tr key={i}>
              {cells.map((text, at) => (
                <td key={at} className={columns[at]?.isNumber === true ? 'n' : ''}>
                  {at === 0 && <Tone of={tone} className="row-spine of-row" />}
                  {text}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function Slips({ name, columns, rows }: Shown) {
  return (
    <ul className="public-slips" aria-label={name}>
      {rows.map(({ cells: [first = '', ...others], tone }, i) => (
        <li key={i}>
          <article className="slip">
            <Tone of={tone} className="row-spine" />
            <h2>{first === '' ? '–' : first}</h2>
            <dl>
              {others.map((text, at) =>
                text === '' ? null : (
                  <div key={at}>
                    <dt>{columns[at + 1]?.name}</dt>
                    <dd>{text}</dd>
                  </div>
                ),
              )}
            </dl>
          </article>
        </li>
      ))}
    </ul>
  );
}
