/** The state of a list: which of its records one looks at, and in which order. */
import { z } from 'zod';
import { mostLevels } from '../design/list.js';
import { ColumnNarrowing } from '../query/picked-rows.js';
import { Narrowing } from '../query/query.js';
import { Id } from '../shapes/shapes.js';
import { fromJson } from './route.js';

/** What is searched for: as much of a text that somebody pasted as a search can tell apart. */
export const searched = (text: string): string => text.slice(0, 200);
export const SearchText = z.string().default('').transform(searched);
const narrowed = z.array(Narrowing).max(12);
const by = z.array(Id).max(mostLevels);
const picked = {
  /** Which list of the table; else the one it opens with. */
  list: Id.optional(),
  search: SearchText,
  /** Another order than that of the list. */
  sort: Id.optional(),
  direction: z.enum(['up', 'down']).default('up'),
};
/** Which records and in which order: the state of a list, as it is in the address. */
export const Selection = z.object({
  ...picked,
  narrowed: fromJson(narrowed).optional(),
  /** Other fields to group by than those of the list. */
  by: fromJson(by).optional(),
});
/** The same as it is kept. */
const KeptSelection = z.object({ ...picked, narrowed: narrowed.optional(), by: by.optional() });
export type Selection = z.infer<typeof Selection>;

const rows = {
  search: SearchText,
  /** The column to sort by, before the query's own order. */
  sort: Id.optional(),
  direction: z.enum(['up', 'down']).default('up'),
};
const only = z.array(ColumnNarrowing).max(12);
/** What someone picks of the rows of a query, and in which order, as it is in the address of their page. */
export const RowsPicked = z.object({ ...rows, only: fromJson(only).default([]), /** The columns that rows are grouped by. */ by: fromJson(by).default([]) });
export type RowsPicked = z.infer<typeof RowsPicked>;

/** What someone keeps for themselves: a list of a table, or the rows of a query, as they looked at them. */
export const KeptList = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('table'), table: Id, selection: KeptSelection }),
  z.object({ kind: z.literal('query'), query: Id, picked: z.object({ ...rows, only: only.default([]), by: by.default([]) }) }),
]);
export type KeptList = z.infer<typeof KeptList>;
/** The same as it travels. */
export type AskedSelection = z.input<typeof Selection>;
