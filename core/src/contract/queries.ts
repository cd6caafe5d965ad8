import { z } from 'zod';
import { ExportFormat } from '../export/formats.js';
import { Id } from '../shapes/shapes.js';
import { SavedQuery } from '../design/saved-query.js';
import { Unit } from '../values/units.js';
import { appParams } from './apps.js';
import { nothingAsked } from './people.js';
import { ValueShape } from './records.js';
import { route } from './route.js';
import { GroupLevels } from './records.js';
import { RowsPicked } from './selection.js';

/** How numbers are shown, see `ShownNumber`. */
export const shownNumber = { digits: z.number().nullable(), unit: Unit.nullable(), isAmount: z.boolean().optional() };

const ResultColumn = z.object({
  id: z.string(),
  name: z.string(),
  /** The kind of its type in the expression language; `record`: each value is a reference. */
  type: z.string(),
  /** Of the records that its values refer to. */
  table: z.string().nullable(),
  ...shownNumber,
});
export type ResultColumn = z.infer<typeof ResultColumn>;

/** Which records it is made of: all, those that the person can see, or none. */
export const PartSeen = z.enum(['all', 'part', 'none']);

export const QueryResult = z.object({
  columns: z.array(ResultColumn),
  /** `id`: the record of the grain that the row stands for; null where rows are summarised. */
  rows: z.array(z.object({ id: z.number().nullable(), cells: z.array(ValueShape) })),
  /** From the grain to the result, see `ledgerOf`. */
  ledger: z.array(z.object({ kind: z.enum(['grain', 'condition', 'groups', 'limit']), condition: z.string(), left: z.number() })),
  seen: PartSeen,
});
export type QueryResult = z.infer<typeof QueryResult>;

/** How far the rows of a query can be gone through; beyond that they are narrowed or sorted otherwise. */
export const mostRowsRead = 10_000;

export const readQuery = route({
  method: 'GET',
  path: '/api/apps/:app/queries/:query',
  access: 'member',
  heavy: true,
  params: appParams.extend({ query: Id }),
  /** `skip`: so many rows come before those that are read. `count`: whether all are counted that are picked. */
  query: RowsPicked.extend({
    limit: z.coerce.number().int().min(1).max(1000).default(200),
    skip: z.coerce.number().int().min(0).max(mostRowsRead).default(0),
    count: z.enum(['yes', 'no']).default('yes'),
  }),
  body: nothingAsked,
  answer: QueryResult.omit({ ledger: true }).extend({
    /** How many rows are picked; null: they were not counted. */
    found: z.number().nullable(),
    /** Of what was counted or summed up in each row: all of it together, by the id of its column. */
    sums: z.record(z.string(), z.string().nullable()),
  }),
});
/** By which values of its columns the rows of a query can be picked, and how many of those that the other columns leave have each. */
export const readQueryValues = route({
  method: 'GET',
  path: '/api/apps/:app/queries/:query/values',
  access: 'member',
  heavy: true,
  params: appParams.extend({ query: Id }),
  query: RowsPicked.pick({ search: true, only: true }),
  body: nothingAsked,
  answer: z.object({
    columns: z.array(z.object({ column: z.string(), values: z.array(z.object({ value: ValueShape, count: z.number() })), more: z.boolean() })),
  }),
});
/** The groups of rows of a query, level by level: first all rows that are picked, then those of each value of the first column, and so on. */
export const readQueryGroups = route({
  method: 'GET',
  path: '/api/apps/:app/queries/:query/groups',
  access: 'member',
  heavy: true,
  params: appParams.extend({ query: Id }),
  query: RowsPicked.pick({ search: true, only: true, by: true }),
  body: nothingAsked,
  answer: GroupLevels,
});
/** The rows as a file, as far as this person can export what they are made of. */
export const exportQuery = route({
  method: 'GET',
  path: '/api/apps/:app/queries/:query/export',
  access: 'member',
  heavy: true,
  params: appParams.extend({ query: Id }),
  query: RowsPicked.extend({ format: ExportFormat }),
  body: nothingAsked,
  answer: z.unknown(),
});
/** The same on paper, as a PDF. */
export const printQuery = route({
  method: 'GET',
  path: '/api/apps/:app/queries/:query/pdf',
  access: 'member',
  heavy: true,
  params: appParams.extend({ query: Id }),
  query: RowsPicked,
  body: nothingAsked,
  answer: z.unknown(),
});
/** What a query gives while it is still being written. */
export const tryQuery = route({
  method: 'POST',
  path: '/api/apps/:app/try-query',
  access: 'builder',
  heavy: true,
  params: appParams,
  query: nothingAsked,
  body: z.object({ query: SavedQuery }),
  answer: QueryResult,
});
