/**
 * An app is a value: its whole design is one immutable `AppDesign`, and everything else (the database, the screens, the
 * rules) is derived from it by pure functions. This file says what such a design consists of.
 */
import { z } from 'zod';

/** Stable name of a part of a design: the design refers to everything by id, so that renaming touches nothing else. */
export const Id = z.string().regex(/^[a-z][a-z0-9_]{1,39}$/, 'must be a short id');

/** What a part is called by people. Also the source of its name in the database, which PostgreSQL cuts at 63 bytes. */
export const Label = z
  .string()
  .transform((text) => text.trim().replace(/\s+/gu, ' '))
  .pipe(
    z
      .string()
      .min(1, 'needs a name')
      .max(60, 'is longer than 60 characters')
      .regex(/^[^\p{C}"]*$/u, 'has a character that names cannot hold'),
  );

/** Name of a table or column in the database, as any SQL client sees it. */
const Slug = z.string().regex(/^[a-z][a-z0-9_]{0,59}$/);

const Description = z.string().max(2000).default('');

export const fieldKinds = ['text', 'long_text', 'whole', 'decimal', 'date', 'yes_no', 'choice', 'reference'] as const;
export type FieldKind = (typeof fieldKinds)[number];

export const Choice = z.object({ id: z.string().regex(/^[a-z0-9][a-z0-9_]{0,59}$/), label: Label }).readonly();
export type Choice = z.infer<typeof Choice>;

const common = { id: Id, name: Label, description: Description, required: z.boolean().default(false), unique: z.boolean().default(false) };

/** Largest whole number that a browser and JSON carry exactly; the database holds whole numbers within the same range. */
export const largestWhole = Number.MAX_SAFE_INTEGER;

const Decimal = z.string().regex(/^-?\d{1,30}(\.\d{1,12})?$/, 'must be a number');
const IsoDate = z.iso.date();

/** What a builder decides about a field; its column in the database is added when the field joins a table. */
export const FieldPlan = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('text'), ...common, default: z.string().max(1000).nullable().default(null) }),
  z.object({ kind: z.literal('long_text'), ...common, unique: z.literal(false).default(false), default: z.string().max(1000).nullable().default(null) }),
  z.object({ kind: z.literal('whole'), ...common, default: z.number().int().min(-largestWhole).max(largestWhole).nullable().default(null) }),
  z.object({ kind: z.literal('decimal'), ...common, digits: z.number().int().min(0).max(12).default(2), default: Decimal.nullable().default(null) }),
  z.object({
    kind: z.literal('date'),
    ...common,
    default: z
      .union([IsoDate, z.literal('today')])
      .nullable()
      .default(null),
  }),
  z.object({ kind: z.literal('yes_no'), ...common, unique: z.literal(false).default(false), default: z.boolean().nullable().default(null) }),
  z.object({
    kind: z.literal('choice'),
    ...common,
    unique: z.literal(false).default(false),
    choices: z.array(Choice).min(1, 'needs at least one choice').max(200).readonly(),
    default: z.string().nullable().default(null),
  }),
  z.object({ kind: z.literal('reference'), ...common, relationship: Id, default: z.null().default(null) }),
]);
export type FieldPlan = z.infer<typeof FieldPlan>;

export const Field = z.intersection(FieldPlan, z.object({ column: Slug })).readonly();
export type Field = z.infer<typeof Field>;

export const Table = z
  .object({
    id: Id,
    name: Label,
    slug: Slug,
    description: Description,
    /** The builder's own heading under which the table stands on the shelf; empty when it stands under none. */
    section: z.string().max(60).default(''),
    /** The fields whose values, joined by " · ", say what a record is called wherever it is named or picked. */
    caption: z.array(Id).max(3).readonly().default([]),
    fields: z.array(Field).max(300).readonly(),
  })
  .readonly();
export type Table = z.infer<typeof Table>;

/** One parent has many children. On the child stands a reference field; on the parent the children have a name. */
export const Relationship = z
  .object({
    id: Id,
    parent: Id,
    child: Id,
    field: Id,
    childrenName: Label,
    whenParentRemoved: z.enum(['refuse', 'clear', 'remove']),
  })
  .readonly();
export type Relationship = z.infer<typeof Relationship>;

export const FormItem = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('field'), field: Id, width: z.number().int().min(1).max(12) }).readonly(),
  z.object({ kind: z.literal('children'), relationship: Id }).readonly(),
]);
export type FormItem = z.infer<typeof FormItem>;

export const Form = z.object({ id: Id, table: Id, name: Label, items: z.array(FormItem).readonly() }).readonly();
export type Form = z.infer<typeof Form>;

export const Sort = z.object({ field: Id, direction: z.enum(['up', 'down']) }).readonly();
export type Sort = z.infer<typeof Sort>;

export const List = z.object({ id: Id, table: Id, name: Label, columns: z.array(Id).readonly(), sort: Sort.nullable() }).readonly();
export type List = z.infer<typeof List>;

export const AppDesignShape = z
  .object({
    format: z.literal(1),
    name: Label,
    tables: z.array(Table).max(500).readonly(),
    relationships: z.array(Relationship).readonly(),
    forms: z.array(Form).readonly(),
    lists: z.array(List).readonly(),
  })
  .readonly();

declare const parsed: unique symbol;
/** A design whose every name resolves. Only `parseDesign` and `applyChange` make one, so no reader checks again. */
export type AppDesign = z.infer<typeof AppDesignShape> & { readonly [parsed]: true };

export type TableId = string;
export type FieldId = string;
