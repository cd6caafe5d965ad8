/** What a person can ask for when they rearrange a design. Only the shapes are here, so that the browser loads no more than these. */
import { z } from 'zod';
import { Id, Label } from '../shapes/shapes.js';

/** Fields that move, each with the id that it has where it goes. */
const Carried = z.object({ field: Id, to: Id });
export type Carried = z.infer<typeof Carried>;

/** A text that many records repeat becomes a table, with a record for each. */
export const FieldToTable = z.object({
  kind: z.literal('field_to_table'),
  table: Id,
  field: Id,
  /** The new table, and what its records are called by. */
  made: z.object({ id: Id, name: Label, form: Id, list: Id, nameField: Id, nameLabel: Label }),
  /** The reference that takes the place and the name of the field, and what the new table calls the records that refer to it. */
  relationship: z.object({ id: Id, field: Id, childrenName: Label }),
  /** What follows from the text, and goes along. */
  carried: z.array(Carried).max(100),
});
export type FieldToTable = z.infer<typeof FieldToTable>;

/** Fields move to the table that a reference leads to. */
export const MoveFields = z.object({ kind: z.literal('move_fields'), relationship: Id, carried: z.array(Carried).min(1).max(100) });
export type MoveFields = z.infer<typeof MoveFields>;

const Side = z.object({ relationship: Id, field: Id, shownAs: Label });
/** A record can belong to several: a reference becomes a relationship of pairs. */
export const SeveralParents = z.object({
  kind: z.literal('several_parents'),
  relationship: Id,
  link: z.object({ id: Id, form: Id, list: Id, together: Id }),
  /** The side of the parents, and that of the children. `shownAs`: what its records call those of the other. */
  parent: Side,
  child: Side,
});
export type SeveralParents = z.infer<typeof SeveralParents>;

/** A record belongs to one: a relationship of pairs becomes a reference. */
export const OneParent = z.object({
  kind: z.literal('one_parent'),
  /** The table of pairs, and which of its relationships leads to the table whose records have one from now on. */
  link: Id,
  child: Id,
  reference: z.object({ relationship: Id, field: Id, name: Label, childrenName: Label }),
});
export type OneParent = z.infer<typeof OneParent>;

const Replaced = z.object({ relationship: Id, made: Id, field: Id });
/** The records of a table go to another one, beside its own. */
export const MergeTables = z.object({
  kind: z.literal('merge_tables'),
  from: Id,
  into: Id,
  /** The choice that says from which of the two tables a record comes. */
  mark: z.object({ field: Id, name: Label }),
  /** Each becomes a field of the other table: one that it has, or a new one. Others stay behind. */
  carried: z.array(Carried).max(300),
  /** The relationships by which its records refer to others, and by which others refer to them, each with the one in its place and its field. */
  references: z.array(Replaced).max(300),
  children: z.array(Replaced).max(500),
  /** The reference by which, in between, a record names the one that it becomes. */
  went: z.object({ relationship: Id, field: Id }),
});
export type MergeTables = z.infer<typeof MergeTables>;

export const Rearrangement = z.discriminatedUnion('kind', [FieldToTable, MoveFields, SeveralParents, OneParent, MergeTables]);
export type Rearrangement = z.infer<typeof Rearrangement>;
