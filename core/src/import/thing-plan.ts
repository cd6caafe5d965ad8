/** What a person decides about something that the rows of a file repeat: a table of its own for it, to which they refer. */
import { z } from 'zod';
import { Id, Label } from '../shapes/shapes.js';

const Column = z.number().int().min(0).max(999);

export const ThingPlan = z.object({
  table: Id,
  name: Label,
  form: Id,
  list: Id,
  /** The column with its name; all columns are counted from 0. */
  key: Column,
  /** What else of a row is about it. */
  columns: z.array(Column).max(1000),
  /** The table whose records refer to it: that of the rows, or of another thing. */
  within: Id,
  relationship: Id,
  /** The field of that table which does so. */
  field: Id,
  fieldName: Label,
  childrenName: Label,
  /** Where rows with the same name differ: which of their values is right. For the others it is the one that most rows have. */
  chosen: z.array(z.object({ column: Column, name: z.string().max(400), value: z.string().max(400) })).max(5000),
});
export type ThingPlan = z.infer<typeof ThingPlan>;
