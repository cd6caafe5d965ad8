import { z } from 'zod';
import { Id } from '../shapes/shapes.js';
import { Report } from '../design/report.js';
import type { PageFinding } from '../report/check-pages.js';
import type { Page, Paper } from '../report/page.js';
import { appParams } from './apps.js';
import { nothingAsked } from './people.js';
import { shownNumber, PartSeen } from './queries.js';
import { route } from './route.js';

const slice = {
  /** The first page wanted, from 1, and how many from there on. */
  from: z.coerce.number().int().min(1).max(1_000_000).default(1),
  count: z.coerce.number().int().min(1).max(20).default(5),
};

/** Pages of a report, as far as this person can see the records behind it. */
export const ReportPages = z.object({
  pages: z.array(z.custom<Page>()),
  /** How many pages there are in all. */
  of: z.number(),
  paper: z.custom<Paper>(),
  rows: z.number(),
  seen: PartSeen,
});
export type ReportPages = z.infer<typeof ReportPages>;

const ReportProof = z.object({
  /** The total on the paper, and the one that the database counts by itself; null: no values yet. */
  sums: z.array(
    z.object({
      label: z.string(),
      /** Exact. */
      paper: z.string().nullable(),
      source: z.string().nullable(),
      holds: z.boolean(),
      /** How they are printed, see `printTyped`. */
      type: z.string(),
      ...shownNumber,
    }),
  ),
  findings: z.array(z.custom<PageFinding>()),
});
export type ReportProof = z.infer<typeof ReportProof>;

export const readReport = route({
  method: 'GET',
  path: '/api/apps/:app/reports/:report',
  access: 'member',
  heavy: true,
  params: appParams.extend({ report: Id }),
  query: z.object(slice),
  body: nothingAsked,
  answer: ReportPages,
});
/** The same pages as a PDF. */
export const printReport = route({
  method: 'GET',
  path: '/api/apps/:app/reports/:report/pdf',
  access: 'member',
  heavy: true,
  params: appParams.extend({ report: Id }),
  query: nothingAsked,
  body: nothingAsked,
  answer: z.unknown(),
});
/** What a report gives while it is still being laid out. */
export const tryReport = route({
  method: 'POST',
  path: '/api/apps/:app/try-report',
  access: 'builder',
  heavy: true,
  params: appParams,
  query: nothingAsked,
  body: z.object({ report: Report, ...slice }),
  answer: ReportPages.extend({ proof: ReportProof }),
});
