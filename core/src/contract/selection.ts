/** The state of a list: which of its records one looks at, and in which order. */
import { z } from 'zod';
import { mostLevels } from '../design/list.js';
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
export const KeptSelection = z.object({ ...picked, narrowed: narrowed.optional(), by: by.optional() });
export type Selection = z.infer<typeof Selection>;
/** The same as it travels. */
export type AskedSelection = z.input<typeof Selection>;
