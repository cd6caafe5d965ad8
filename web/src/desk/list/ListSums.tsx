import type { Selection, Table } from '@bibliona/core';
import { SumLines } from './SumLines.js';
import { useSums } from './use-groups.js';

/** The sums of a list over all its records, below them; without those of columns that have theirs at their foot. */
export default function ListSums({ table, selection, except }: { readonly table: Table; readonly selection: Selection; readonly except: readonly string[] }) {
  const sums = [...useSums(table, selection, true)].filter(([field]) => !except.includes(field.id));
  return <SumLines label="Sums of all records" sums={sums.map(([{ id, name }, sum]) => ({ id, name, sum }))} />;
}
