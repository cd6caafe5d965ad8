import { z } from 'zod';
import { appParams } from './apps.js';
import { nothingAsked } from './people.js';
import { recordParams } from './records.js';
import { route } from './route.js';

/** A file as a value of a field names it, see `filesAs`. */
const Uploaded = z.object({ name: z.string(), hash: z.string(), size: z.number() });

/** Uploads a file. It is nobody's until a record that names it is saved, and is deleted a day later if none is. */
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
/** `preview`: an image small enough for a list. */
const asked = z.object({ as: z.enum(['whole', 'preview', 'download']).default('whole') });
export const FileHash = z.string().regex(/^[0-9a-f]{64}$/u);

/** A file that no record holds: one that this person uploaded to save in a record or a form, or an image on a form that they see. */
export const readFreeFile = route({
  method: 'GET',
  path: '/api/apps/:app/files/:hash',
  access: 'member',
  params: appParams.extend({ hash: FileHash }),
  query: asked,
  body: nothingAsked,
  answer: z.unknown(),
});
/** A file that a field of a record holds now, for those who see that field; also one that this person uploaded to save there. */
export const readFile = route({
  method: 'GET',
  path: '/api/apps/:app/tables/:table/records/:id/files/:field/:hash',
  access: 'member',
  params: recordParams.extend({ field: z.string().max(100), hash: FileHash }),
  query: asked,
  body: nothingAsked,
  answer: z.unknown(),
});
