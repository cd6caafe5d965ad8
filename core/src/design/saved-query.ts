/** Questions as a design keeps them, and the rows that they give to reports and dashboards. */
import { z } from 'zod';
import { Arrangement } from './arrangement.js';
import { Description, Expression, Id, Label } from '../shapes/shapes.js';

/** So many fields or columns can narrow a list on the spot. */
export const mostQuickFilters = 8;

export const summaries = ['count', 'sum', 'average', 'smallest', 'largest'] as const;
/** How many values become one; empty values count in none of them. */
export type Summary = (typeof summaries)[number];

/** One column of the result: an expression over a record of the grain, or many of them summarised. */
export const QueryColumn = z
  .object({
    id: Id,
    name: Label,
    /** Empty only beside the summary `count`, which then counts records. */
    expression: Expression,
    summary: z.enum(summaries).nullable().default(null),
    /** Numbers are shown with so many digits after the point; null: as many as there are. */
    digits: z.number().int().min(0).max(12).nullable().default(null),
  })
  .readonly();
export type QueryColumn = z.infer<typeof QueryColumn>;

export const QueryOrder = z.object({ column: Id, direction: z.enum(['up', 'down']) }).readonly();
export type QueryOrder = z.infer<typeof QueryOrder>;

/**
 * A question with a result table: one row per record of its grain that meets the condition. When a column has a
 * summary, the rows are summarised instead: one per combination of the columns without one.
 */
export const SavedQuery = z
  .object({
    id: Id,
    name: Label,
    description: Description,
    section: z.string().max(60).default(''),
    /** The grain. */
    table: Id,
    /** Empty: every record. */
    condition: Expression.default(''),
    columns: z.array(QueryColumn).max(60).readonly(),
    order: z.array(QueryOrder).max(8).readonly().default([]),
    /** Only so many rows of the result, the first in its order; null: all. */
    limit: z.number().int().min(1).max(1_000_000).nullable().default(null),
    /** The columns by whose values its rows can be picked; absent: those in which many rows share a few values. */
    quickFilters: z.array(Id).min(1).max(mostQuickFilters).readonly().optional(),
    /** By its columns; absent: its rows are in a grid. */
    arrangement: Arrangement.optional(),
  })
  .readonly();
export type SavedQuery = z.infer<typeof SavedQuery>;

/** Rows to lay out or to sum up: the records of a table with columns of their own, or the answer of a saved query. */
export const RowSource = z.discriminatedUnion('kind', [
  z
    .object({
      kind: z.literal('table'),
      table: Id,
      condition: Expression.default(''),
      columns: z.array(QueryColumn).max(60).readonly(),
    })
    .readonly(),
  z.object({ kind: z.literal('query'), query: Id }).readonly(),
]);
export type RowSource = z.infer<typeof RowSource>;
/** Whether its columns are made for the one report or tile that shows them; else they are those of another part. */
export const hasOwnColumns = (source: RowSource): source is Extract<RowSource, { columns: unknown }> => 'columns' in source;
