/** Files that are made in the background: for what takes longer than one waits for. */
import { z } from 'zod';
import { appParams } from './apps.js';
import { nothingAsked } from './people.js';
import { exportQuery, printQuery } from './queries.js';
import { exportRecords, printRecords } from './records.js';
import { printReport } from './reports.js';
import { route } from './route.js';

/** The routes that answer with a file. Each of them can be asked for in the background as well. */
export const fileRoutes = { exportRecords, printRecords, exportQuery, printQuery, printReport };
export type FileRouteName = keyof typeof fileRoutes;
export const fileRouteNames = Object.keys(fileRoutes) as [FileRouteName, ...FileRouteName[]];

/** From so many rows on a file is made in the background. */
export const rowsInBackground = 5000;
/** So many files of one person are kept for them in one app, and so many of these are made at once. */
export const mostMadeFiles = { kept: 10, underWay: 2 };

const InAddress = z.record(z.string().max(30), z.string().max(20_000));

export const MadeFile = z.object({
  id: z.string(),
  name: z.string(),
  state: z.enum(['making', 'done', 'failed']),
  /** 0 to 1; null where nobody knows. */
  progress: z.number().nullable(),
  /** In bytes, when it is done. */
  size: z.number().nullable(),
  /** Why it could not be made, in words. */
  message: z.string().nullable(),
});
export type MadeFile = z.infer<typeof MadeFile>;

const fileParams = appParams.extend({ file: z.uuid() });

/** Begins to make a file: what the named route answers to these, as the person who asks. */
export const makeFile = route({
  method: 'POST',
  path: '/api/apps/:app/files-made',
  access: 'member',
  params: appParams,
  query: nothingAsked,
  body: z.object({
    route: z.enum(fileRouteNames),
    /** What is in the address of that route, besides the app. */
    params: InAddress,
    query: InAddress,
    name: z.string().trim().min(1).max(200),
  }),
  answer: MadeFile,
});
/** The files that this person has asked for, the latest first. Each is there for a day. */
export const readMadeFiles = route({
  method: 'GET',
  path: '/api/apps/:app/files-made',
  access: 'member',
  params: appParams,
  query: nothingAsked,
  body: nothingAsked,
  answer: z.object({ files: z.array(MadeFile) }),
});
export const readMadeFile = route({
  method: 'GET',
  path: '/api/apps/:app/files-made/:file',
  access: 'member',
  params: fileParams,
  query: nothingAsked,
  body: nothingAsked,
  answer: z.unknown(),
});
/** Stops what is being made, and deletes what was. */
export const removeMadeFile = route({
  method: 'POST',
  path: '/api/apps/:app/files-made/:file/remove',
  access: 'member',
  params: fileParams,
  query: nothingAsked,
  body: nothingAsked,
  answer: z.object({}),
});
