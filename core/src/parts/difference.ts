/** One thing that differs between two designs, as it travels: its shape alone, so that who only shows it loads no more. */
import { z } from 'zod';
import { partLists, type PartName } from '../design/design.js';

export const DesignDifference = z.object({
  kind: z.enum(['added', 'removed', 'renamed', 'changed']),
  /** What it is, as sentences call it, such as `table` or `field`. */
  what: z.string(),
  /** The same as the design calls it, and its id; of the app itself an empty one. */
  part: z.enum([...(Object.keys(partLists) as PartName[]), 'field', 'app']),
  id: z.string(),
  name: z.string(),
  /** What it is called now, where it gets another name. */
  was: z.string().nullable(),
  /** The table of a field. */
  table: z.string().nullable(),
  /** Whether from then on everyone who knows its address can open it, or no longer can; null: nothing changes in that. */
  published: z.enum(['begins', 'ends']).nullable(),
});
export type DesignDifference = z.infer<typeof DesignDifference>;
