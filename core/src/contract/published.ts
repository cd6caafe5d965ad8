/** Lists, reports and tiles that anyone can see. What is answered holds nothing of the app but what is shown. */
import { z } from 'zod';
import { tones } from '../fields/choice.js';
import { Tile } from '../design/dashboard.js';
import { Id } from '../shapes/shapes.js';
import { Region } from '../values/regions.js';
import { appParams } from './apps.js';
import { TileAnswer } from './dashboards.js';
import { nothingAsked } from './people.js';
import { ReportPages } from './reports.js';
import { route } from './route.js';

/** So many rows of a list come at once, and no more in all: it is made to be read. */
export const [publishedRows, mostPublishedRows] = [50, 5000] as const;

/** For so long visitors can be shown what was read before, in milliseconds. */
export const publishedFor = 20_000;

export const readPublishedList = route({
  method: 'GET',
  path: '/api/public/:app/lists/:list',
  access: 'anyone',
  heavy: true,
  params: appParams.extend({ list: Id }),
  /** How many rows have been read before these. */
  query: z.object({
    after: z.coerce
      .number()
      .int()
      .min(0)
      .max(mostPublishedRows - publishedRows)
      .multipleOf(publishedRows)
      .default(0),
  }),
  body: nothingAsked,
  answer: z.object({
    name: z.string(),
    arrangement: z.enum(['rows', 'slips']),
    columns: z.array(z.object({ name: z.string(), isNumber: z.boolean() })),
    /** Each cell as the app prints it. */
    rows: z.array(z.object({ cells: z.array(z.string()), tone: z.object({ tone: z.enum(tones), name: z.string() }).nullable() })),
    more: z.boolean(),
  }),
});
export type PublishedRows = z.infer<typeof readPublishedList.answer>;

export const readPublishedReport = route({
  method: 'GET',
  path: '/api/public/:app/reports/:report',
  access: 'anyone',
  heavy: true,
  params: appParams.extend({ report: Id }),
  query: z.object({ from: z.coerce.number().int().min(1).max(1_000_000).default(1) }),
  body: nothingAsked,
  answer: ReportPages.omit({ seen: true }).extend({ name: z.string() }),
});

export const readPublishedTile = route({
  method: 'GET',
  path: '/api/public/:app/tiles/:dashboard/:tile',
  access: 'anyone',
  heavy: true,
  params: appParams.extend({ dashboard: Id, tile: Id }),
  query: nothingAsked,
  body: nothingAsked,
  /** `tile`: how it is drawn, without what it is made of. */
  answer: z.object({ tile: Tile, answer: TileAnswer, region: Region, timeZone: z.string() }),
});
