/** What someone picks of the rows of a result while they read it: none of it changes the query. */
import { z } from 'zod';
import { Id } from '../shapes/shapes.js';
import { Day, Scalar } from './query.js';

/** Rows that show one of these values in a column: a record by its id, a month by its first day, what is empty as null; or the days from one up to the day before another. */
export const ColumnNarrowing = z.union([
  z.object({ column: Id, values: z.array(Scalar).min(1).max(100) }).readonly(),
  z.object({ column: Id, from: Day, before: Day }).readonly(),
]);
export type ColumnNarrowing = z.infer<typeof ColumnNarrowing>;

export interface PickedRows {
  /** Every word of it is in what a row shows. */
  readonly search: string;
  readonly narrowed: readonly ColumnNarrowing[];
}
export const everyRow: PickedRows = { search: '', narrowed: [] };

/** The types whose values can be picked by: few different ones, each of many rows. */
export const pickedTypes: ReadonlySet<string> = new Set(['record', 'choice', 'boolean', 'string']);
/** The types of days, which are grouped by their months. */
export const dayTypes: ReadonlySet<string> = new Set(['date', 'date and time']);
/** The values of a column that rows are picked by. */
export const valuesPicked = (narrowed: readonly ColumnNarrowing[], column: string): Extract<ColumnNarrowing, { values: unknown }>['values'] =>
  narrowed.flatMap((each) => (each.column === column && 'values' in each ? each.values : []));
/** So many values of a column are offered. */
export const mostPickedValues = 12;
