import type { Selection, Table } from '@bibliona/core';
import { useSums } from './use-groups.js';

/** The sums of a list over all its records, below them; without those of columns that have theirs at their foot. */
export default function ListSums({ table, selection, except }: { readonly table: Table; readonly selection: Selection; readonly except: readonly string[] }) {
  const sums = [...useSums(table, selection, true)].filter(([field]) => !except.includes(field.id));
  if (sums.length === 0) return null;
  return (
    <dl className="list-sums" aria-label="Sums of all records">
      {sums.map(([field, sum]) => (
        <div key={field.id}>
          <dt>Sum of {field.name}</dt>
          <dd>{sum}</dd>
        </div>
      ))}
    </dl>
  );
}
