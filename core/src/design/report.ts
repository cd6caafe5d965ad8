/** Reports as a design keeps them: rows laid out on pages. */
import { z } from 'zod';
import { Description, Id, Label } from '../shapes/shapes.js';
import { Published } from './published.js';
import { QueryOrder, RowSource, summaries } from './saved-query.js';

/** A column of the rows as it is on paper. */
export const ReportField = z
  .object({
    column: Id,
    /** Its part of the width that all fields share. */
    share: z.number().int().min(1).max(40).default(8),
    /** Wrap long text; else it is cut at the end of its place. */
    wraps: z.boolean().default(true),
    /** What is said of all its values under each group and at the end. */
    total: z.enum(summaries).nullable().default(null),
  })
  .readonly();
export type ReportField = z.infer<typeof ReportField>;

/** Rows with the same value of a column stand together under a heading, and their totals below them. */
export const ReportGroup = z
  .object({
    column: Id,
    direction: z.enum(['up', 'down']).default('up'),
    startsPage: z.boolean().default(false),
    /** The heading is never at the foot of a page without a row below it. */
    keepsHeading: z.boolean().default(true),
  })
  .readonly();
export type ReportGroup = z.infer<typeof ReportGroup>;

export const paperSizes = ['a4', 'letter'] as const;

/** Rows laid out on pages. */
export const Report = z
  .object({
    id: Id,
    name: Label,
    description: Description,
    section: z.string().max(60).default(''),
    source: RowSource,
    fields: z.array(ReportField).max(40).readonly(),
    /** The outermost first. */
    groups: z.array(ReportGroup).max(4).readonly().default([]),
    order: z.array(QueryOrder).max(8).readonly().default([]),
    /** The fields of a row beside each other under headings, or below each other with their names. */
    arrangement: z.enum(['columns', 'blocks']).default('columns'),
    paper: z
      .object({ size: z.enum(paperSizes), turned: z.boolean() })
      .readonly()
      .default({ size: 'a4', turned: false }),
    /** Anyone who knows its address can see it; absent: only people of the app. */
    public: Published.optional(),
  })
  .readonly();
export type Report = z.infer<typeof Report>;
