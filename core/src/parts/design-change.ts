/** Changes of a design as values: what a person can do to it, each small and named. */
import { z } from 'zod';
import { AppDesignShape, Check, MapAddress, UniqueTogether, partLists, type PartKey, type PartName } from '../design/design.js';
import { FieldPlan } from '../fields/kinds.js';
import { Expression, Id, Label } from '../shapes/shapes.js';
import { Region } from '../values/regions.js';

const RelationshipPlan = z.object({
  id: Id,
  parent: Id,
  child: Id,
  fieldId: Id,
  fieldName: Label,
  childrenName: Label,
  required: z.boolean().default(false),
  /** Each parent has one child at most. */
  unique: z.boolean().optional(),
  whenParentRemoved: z.enum(['refuse', 'clear', 'remove']),
});

/** One side of a link: the table, what it calls the records of the other, and the field of a pair that names its record. */
const LinkSide = z.object({ table: Id, relationship: Id, shownAs: Label, field: Id, fieldName: Label });

const NamedChange = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('rename_app'), name: Label }),
  z.object({
    kind: z.literal('add_table'),
    id: Id,
    name: Label,
    description: z.string().max(2000).default(''),
    section: z.string().max(60).default(''),
    fields: z.array(FieldPlan).max(300).default([]),
    form: Id,
    list: Id,
  }),
  z.object({
    kind: z.literal('change_table'),
    table: Id,
    name: Label.optional(),
    description: z.string().max(2000).optional(),
    section: z.string().max(60).optional(),
    caption: Expression.optional(),
    checks: z.array(Check).max(50).optional(),
    uniqueTogether: z.array(UniqueTogether).max(10).optional(),
    shownWith: z.array(Id).max(4).optional(),
    isLink: z.boolean().optional(),
  }),
  z.object({ kind: z.literal('set_time_zone'), timeZone: AppDesignShape.unwrap().shape.timeZone.removeDefault() }),
  z.object({ kind: z.literal('set_region'), region: Region }),
  z.object({ kind: z.literal('set_map'), address: MapAddress.nullable() }),
  /** `at`: its place among the fields; else it is the last. */
  z.object({ kind: z.literal('add_field'), table: Id, field: FieldPlan, at: z.number().int().min(0).optional() }),
  z.object({ kind: z.literal('change_field'), table: Id, field: FieldPlan }),
  z.object({ kind: z.literal('move_field'), table: Id, field: Id, to: z.number().int().min(0) }),
  z.object({ kind: z.literal('remove_field'), table: Id, field: Id }),
  z.object({ kind: z.literal('add_relationship'), ...RelationshipPlan.shape }),
  z.object({ kind: z.literal('add_link'), id: Id, name: Label, form: Id, list: Id, together: Id, sides: z.tuple([LinkSide, LinkSide]) }),
  z.object({
    kind: z.literal('change_relationship'),
    relationship: Id,
    childrenName: Label.optional(),
    whenParentRemoved: z.enum(['refuse', 'clear', 'remove']).optional(),
    neverOwn: z.boolean().optional(),
  }),
]);
type NamedChange = z.infer<typeof NamedChange>;

/** Kinds of part that are added, replaced and removed as a whole; a table and a relationship have changes of their own. */
type Parts = z.infer<typeof AppDesignShape>;
type PartsThat<Change extends 'put' | 'remove'> = { [N in PartName]: (typeof partLists)[N][Change] extends true ? N : never }[PartName];
/** Adds the part, or puts it in the place of the one with its id. */
export type Put = {
  readonly [N in PartsThat<'put'>]: { readonly kind: 'put'; readonly part: N; readonly value: Parts[(typeof partLists)[N]['key']][number] };
}[PartsThat<'put'>];
export interface Remove {
  readonly kind: 'remove';
  readonly part: PartsThat<'remove'>;
  readonly id: string;
}

/** The shape of one entry of a list in a design. */
function shapeOf(key: PartKey): z.ZodType {
  let shape: unknown = AppDesignShape.unwrap().shape[key];
  while (shape instanceof z.ZodReadonly || shape instanceof z.ZodDefault) shape = shape.unwrap();
  return (shape as z.ZodArray<z.ZodType>).element;
}

const shapes = (Object.keys(partLists) as PartName[]).flatMap((name) => {
  const { key, put, remove } = partLists[name];
  return [
    ...(put ? [z.object({ kind: z.literal('put'), part: z.literal(name), value: shapeOf(key) })] : []),
    ...(remove ? [z.object({ kind: z.literal('remove'), part: z.literal(name), id: Id })] : []),
  ];
});

export type DesignChange = NamedChange | Put | Remove;
export const DesignChange = z.union([NamedChange, ...shapes]) as unknown as z.ZodType<DesignChange, z.input<typeof NamedChange> | Put | Remove>;

/** Whether it takes something away as a whole. */
export const isRemoval = (change: DesignChange): boolean => change.kind === 'remove' || change.kind === 'remove_field';
