import { contract, printComputed, type AppPerson } from '@bibliona/core';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { locale } from '../../state/locale.js';

const pause = 300;

const printed = (value: string): string => (value === 'true' ? 'yes' : value === 'false' ? 'no' : printComputed(value, { digits: null, unit: null }, locale()));

/** What the expression gives for real records of the table; of a condition also how many meet it. */
export function ExpressionProof({
  table,
  text,
  of,
}: {
  readonly table: string;
  readonly text: string;
  /** For whom it is computed, where it speaks of `me`; else for the person who writes it. */
  readonly of?: Pick<AppPerson, 'id' | 'name'> | undefined;
}) {
  const app = useApp();
  const [asked, setAsked] = useState(text);
  useEffect(() => {
    const timer = setTimeout(() => setAsked(text), pause);
    return () => clearTimeout(timer);
  }, [text]);
  const tried = useQuery({
    queryKey: [...keys.tried(app.id, table, asked), of?.id],
    queryFn: () =>
      call(contract.tryExpression, { params: { app: app.id, table }, body: { expression: asked, ...(of === undefined ? {} : { person: of.id }) } }),
    placeholderData: keepPreviousData,
    retry: false,
  });
  const { data } = tried;
  const count = (n: number): string => `${locale().count(n)}${data !== undefined && n >= data.countedTo ? '+' : ''}`;
  return (
    <div
      className={`expression-proof ${tried.isFetching || asked !== text ? 'stale' : ''} ${tried.isPending ? 'waiting' : ''}`}
      role="group"
      aria-label="For real records"
    >
      {tried.isError && <p className="expression-problem">{messageOf(tried.error)}</p>}
      {data !== undefined && data.rows.length === 0 && <p className="q">No records yet to try it with.</p>}
      {data !== undefined && data.rows.length > 0 && (
        <>
          <p className="q">
            {data.met === null
              ? `For ${data.rows.length} of ${count(data.of)} real records`
              : `True for ${count(data.met)} of ${count(data.of)} real records${of === undefined ? '' : `, asked for ${of.name}`}`}
          </p>
          <table className="rows">
            <tbody>
              {data.rows.map((row) => (
                <tr key={row.id}>
                  <th scope="row" className="el">
                    {row.caption}
                  </th>
                  <td className={row.value === null ? 'none' : 'el'}>{row.value === null ? 'empty' : printed(row.value)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
    </div>
  );
}
