/** What someone picks of the rows of a result while they read it: none of it changes the query. */
import { z } from 'zod';
import { Id } from '../shapes/shapes.js';
import { Scalar } from './query.js';

/** Rows that show one of these values in a column: a record by its id, what is empty as null. */
export const ColumnNarrowing = z.object({ column: Id, values: z.array(Scalar).min(1).max(100) }).readonly();
export type ColumnNarrowing = z.infer<typeof ColumnNarrowing>;

export interface PickedRows {
  /** Every word of it is in what a row shows. */
  readonly search: string;
  readonly narrowed: readonly ColumnNarrowing[];
}
export const everyRow: PickedRows = { search: '', narrowed: [] };

/** The types whose values can be picked by: few different ones, each of many rows. */
export const pickedTypes: ReadonlySet<string> = new Set(['record', 'choice', 'boolean', 'string']);
/** So many values of a column are offered. */
export const mostPickedValues = 12;
