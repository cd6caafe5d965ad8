import type { Selection, Table } from '@bibliona/core';
import { useGroups } from './GroupedRows.js';
import { shownIn } from './shown.js';

/** The sums of a list over all its records, below them. */
export default function ListSums({ table, selection }: { readonly table: Table; readonly selection: Selection }) {
  const { data } = useGroups(table, selection, []);
  const [all] = data?.levels[0]?.groups ?? [];
  if (data === undefined || all === undefined) return null;
  return (
    <dl className="list-sums" aria-label="Sums of all records">
      {data.sums.map((id, i) => {
        const field = table.fields.find((one) => one.id === id);
        const sum = all.sums[i];
        if (field === undefined) return null;
        return (
          <div key={id}>
            <dt>Sum of {field.name}</dt>
            <dd>{sum == null ? '0' : shownIn(field, { id: 0, rev: 0, values: { [id]: sum } })}</dd>
          </div>
        );
      })}
    </dl>
  );
}
