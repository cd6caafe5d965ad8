import { z } from 'zod';
import { appParams } from './apps.js';
import { nothingAsked } from './people.js';
import { recordParams } from './records.js';
import { route } from './route.js';

/** A file as a value of a field names it, see `filesAs`. */
const Uploaded = z.object({ name: z.string(), hash: z.string(), size: z.number() });

/** Brings a file in. It is nobody's until a record that names it is saved, and is deleted a day later if none is. */
export const uploadFile = route({
  method: 'POST',
  path: '/api/apps/:app/files',
  access: 'member',
  upload: true,
  params: appParams,
  query: z.object({ name: z.string().trim().min(1).max(200) }),
  body: nothingAsked,
  answer: Uploaded,
});
/** A file that a field of a record holds now, for those who see that field. */
export const readFile = route({
  method: 'GET',
  path: '/api/apps/:app/tables/:table/records/:id/files/:field/:hash',
  access: 'member',
  params: recordParams.extend({ field: z.string().max(100), hash: z.string().regex(/^[0-9a-f]{64}$/u) }),
  /** `preview`: an image small enough for a list. */
  query: z.object({ as: z.enum(['whole', 'preview', 'download']).default('whole') }),
  body: nothingAsked,
  answer: z.unknown(),
});
