/** How each person looks at a list: which columns, in which order, how wide. */
import { z } from 'zod';
import { Id } from '../shapes/shapes.js';
import { appParams } from './apps.js';
import { nothingAsked } from './people.js';
import { route } from './route.js';

/** `width` in pixels; null: as wide as what is in the column. */
export const ListColumns = z.array(z.object({ field: Id, width: z.number().int().min(40).max(1200).nullable() })).max(300);
export type ListColumns = z.infer<typeof ListColumns>;

/** Keeps the columns that someone chose; null goes back to those of the list. */
export const keepColumns = route({
  method: 'POST',
  path: '/api/apps/:app/lists/:list/columns',
  access: 'member',
  params: appParams.extend({ list: Id }),
  query: nothingAsked,
  body: z.object({ columns: ListColumns.nullable() }),
  answer: z.object({}),
});
