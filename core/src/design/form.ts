/** Forms: one record on screen. */
import { z } from 'zod';
import { Expression, Id, Label } from '../shapes/shapes.js';
import { Page } from './page.js';
import { Sites } from './published.js';
import { screen } from './screen.js';

/** A condition over the record that is in the form; absent: no matter what is in it. */
const When = Expression.optional();
const width = z.number().int().min(1).max(12);

/** Where a button leads that opens a page of the web, or a mail to write. */
const WebAddress = z
  .string()
  .trim()
  .max(500)
  .regex(/^(?:https?:\/\/|mailto:)\S+$/u, 'must be an address such as https://example.org');

/** What comes of pressing a button on a form. */
const ButtonDoes = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('page'), page: Page }).readonly(),
  z.object({ kind: z.literal('address'), address: WebAddress }).readonly(),
  /** A new record that belongs to the one in the form. */
  z.object({ kind: z.literal('add'), relationship: Id }).readonly(),
  /** An automation that is started by hand, for the record in the form. */
  z.object({ kind: z.literal('run'), automation: Id }).readonly(),
]);
export type ButtonDoes = z.infer<typeof ButtonDoes>;

/** How many steps away a record can be whose fields a form shows, and how many rows of a list. */
export const mostSteps = 3;
const mostRows = 100;

const RowFill = z.object({ field: Id, value: Expression.min(1, 'needs a value') }).readonly();
export type RowFill = z.infer<typeof RowFill>;

/** How many lists are shown below one row. */
export const mostBelow = 5;
/** A list of records that refer to the record of a row by one of their fields. */
const BelowRow = z.object({ list: Id, by: Id }).readonly();
export type BelowRow = z.infer<typeof BelowRow>;

/** The largest image that a form shows, in megabytes: it comes with the form each time. */
export const largestFormImage = 3;
const ImageFile = z.object({ name: z.string().min(1).max(200), hash: z.string().regex(/^[0-9a-f]{64}$/u), size: z.number().int().min(1) }).readonly();

export const FormItem = z.discriminatedUnion('kind', [
  z
    .object({
      kind: z.literal('field'),
      field: Id,
      width,
      /** What it is called in this form; absent: as in its table. */
      label: Label.optional(),
      shownIf: When,
      /** It has to be filled here. What must hold on every way is a rule of the table. */
      requiredIf: When,
      readOnlyIf: When,
      /** What it is filled with, each time that what this is computed from changes in the form; absent: only people fill it. */
      fill: When,
    })
    .readonly(),
  z
    .object({
      kind: z.literal('children'),
      relationship: Id,
      /** The fields that its rows show; absent: those that the list of the child shows. */
      columns: z.array(Id).min(1).max(60).readonly().optional(),
      /** What fields of a row are filled with, as `fill` of a field; absent: nothing. */
      fills: z.array(RowFill).max(60).readonly().optional(),
      /** The whole number by which rows are in order: people can move them then. Absent: they come as they were made. */
      orderedBy: Id.optional(),
      /** What is shown of a row that is pressed: records that belong to it in turn. Absent: nothing. */
      below: z.array(BelowRow).min(1).max(mostBelow).readonly().optional(),
      shownIf: When,
    })
    .readonly(),
  /** What a record shows that this one refers to, by one reference or by several in a row. */
  z
    .object({
      kind: z.literal('parent'),
      id: Id,
      through: z.array(Id).min(1).max(mostSteps).readonly(),
      field: Id,
      width,
      label: Label.optional(),
      shownIf: When,
      /** It can be changed in this form, and is saved with it, by those who can change the other record; absent: it is only read. */
      inPlace: z.literal(true).optional(),
    })
    .readonly(),
  /** Records of another table that refer to this one, as a list of theirs shows them. */
  z.object({ kind: z.literal('list'), id: Id, list: Id, by: Id, rows: z.number().int().min(1).max(mostRows), shownIf: When }).readonly(),
  z.object({ kind: z.literal('button'), id: Id, name: Label, does: ButtonDoes, width, shownIf: When }).readonly(),
  /** Begins a section. */
  z.object({ kind: z.literal('heading'), id: Id, text: Label }).readonly(),
  z.object({ kind: z.literal('text'), id: Id, text: z.string().trim().min(1, 'needs a text').max(4000), width }).readonly(),
  /** An image that is part of the design; without `file` one is still to be chosen. `alt` is its text for those who can't see it; empty: it only decorates. */
  z.object({ kind: z.literal('image'), id: Id, file: ImageFile.optional(), alt: z.string().trim().max(300).default(''), width }).readonly(),
  /** Begins a tab: what follows is on it, up to the next. What comes before the first tab is shown on all of them. */
  z.object({ kind: z.literal('tab'), id: Id, name: Label }).readonly(),
]);
export type FormItem = z.infer<typeof FormItem>;
export type FormItemOf<K extends FormItem['kind']> = Extract<FormItem, { kind: K }>;

/** The images that forms show. */
export const imagesOn = (forms: readonly Pick<Form, 'items'>[]): readonly z.infer<typeof ImageFile>[] =>
  forms.flatMap((form) => form.items.flatMap((item) => (item.kind === 'image' && item.file !== undefined ? [item.file] : [])));

/** How a form is public: anyone who knows its address can fill it in without signing in. */
export const PublicForm = z
  .object({
    /** Through which records are added: what it grants is what a visitor can do. */
    role: Id,
    /** Asked of a visitor, to keep programs out. Any of the answers will do, whatever the case of their letters. */
    question: z
      .object({ text: Label, answers: z.array(z.string().trim().min(1).max(120)).min(1).max(20).readonly() })
      .readonly()
      .optional(),
    /** From this day on it is closed. */
    closedFrom: z.iso.date().optional(),
    /** It is closed after so many records. */
    most: z.number().int().min(1).max(1_000_000).optional(),
    /** Shown when it is closed. */
    closedText: z.string().trim().max(1000).optional(),
    sites: Sites,
  })
  .readonly();
export type PublicForm = z.infer<typeof PublicForm>;

/** What comes when a new record was saved. */
export const afterAdding = ['open', 'new', 'list'] as const;

/** How wide a form can be that does not take all the space there is. */
export const formSizes = ['narrow', 'medium'] as const;

export const Form = z
  .object({
    ...screen,
    items: z.array(FormItem).max(400).readonly(),
    /** Labels are beside the inputs, where there is room; absent: above them. */
    labelsBeside: z.literal(true).optional(),
    /** A record is read first, and becomes a form at a press; absent: it is one at once. */
    readFirst: z.literal(true).optional(),
    /** Its records open in a window over their list, where there is room for one; absent: on a page of their own. */
    inWindow: z.literal(true).optional(),
    /** Absent: as wide as its page or window. */
    size: z.enum(formSizes).optional(),
    /** Absent: the record is opened. */
    afterAdding: z.enum(afterAdding).optional(),
    /** Shown when a new record was saved. */
    thanks: z.string().trim().max(300).optional(),
    /** Absent: it is for people of the app. */
    public: PublicForm.optional(),
  })
  .readonly();
export type Form = z.infer<typeof Form>;

/** What tells an item of a form apart from the others. */
export const itemKey = (item: FormItem): string => (item.kind === 'field' ? item.field : item.kind === 'children' ? item.relationship : item.id);
