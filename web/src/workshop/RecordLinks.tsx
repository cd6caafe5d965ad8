import type { NamedRecord } from '@bibliona/core';
import { useApp } from '../state/app.js';

/** Records that a change of the design would be about, each to open beside the Workshop. */
export function RecordLinks({ records }: { readonly records: readonly NamedRecord[] }) {
  const app = useApp();
  if (records.length === 0) return null;
  return (
    <ul className="record-links" aria-label="Records to look at">
      {records.map(({ table, id, caption }) => (
        <li key={`${table} ${id}`}>
          <a className="lk" href={`/desk/${app.id}/${table}/${id}`} target="_blank" rel="noreferrer">
            {caption}
          </a>
        </li>
      ))}
    </ul>
  );
}
