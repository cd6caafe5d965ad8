/**
 * An app is a value: its whole design is one immutable `AppDesign`, and everything else (the database, the screens, the
 * rules) is derived from it by pure functions. This file says what such a design consists of.
 */
import { z } from 'zod';
import { FieldPlan, kindOf } from '../fields/kinds.js';
import { Automation } from './automation.js';
import { DiagramNote, Section } from './diagram.js';
import { Form } from './form.js';
import { List } from './list.js';
import { Page } from './page.js';
import { Description, Expression, Id, Label } from '../shapes/shapes.js';
import { Dashboard } from './dashboard.js';
import { Report } from './report.js';
import { Route } from './route.js';
import { SavedQuery } from './saved-query.js';
import { defaultRegion, Region } from '../values/regions.js';

/** Whether the IANA database of this machine has a zone of that name. */
function isZone(zone: string): boolean {
  try {
    return new Intl.DateTimeFormat('en', { timeZone: zone }).resolvedOptions().timeZone !== '';
  } catch {
    return false;
  }
}

/** Name of a table or column in the database, as any SQL client sees it. */
const Slug = z.string().regex(/^[a-z][a-z0-9_]{0,59}$/);

export const Field = z.intersection(FieldPlan, z.object({ column: Slug })).readonly();
export type Field = z.infer<typeof Field>;
/** A field with a column in the database. */
export type StoredField = Exclude<Field, { kind: 'formula' }>;
export const isStored = (field: Field): field is StoredField => kindOf(field).column !== null;
/** Whether the database gives its values. */
export const isGiven = (field: Field): boolean => kindOf(field).isGiven === true;
/** Whether a value can be put into a field for somebody: it is stored, is not numbered by itself, and is made of no files or strokes of a pen. */
export const isFillable = (field: Field): field is StoredField =>
  isStored(field) && !isGiven(field) && kindOf(field).files === undefined && field.kind !== 'signature';
/** Whether records can be put in order by giving them other values of a field. Two have the same for a moment, while they are saved. */
export const canOrderRows = (table: Pick<Table, 'uniqueTogether'>, field: Field): boolean =>
  field.kind === 'whole' && !field.unique && !table.uniqueTogether.some((each) => each.fields.includes(field.id));

/** Whether a form can change a field of a record that its own refers to: a status is moved where the record itself is. */
export const isOpenInPlace = (design: { readonly routes: readonly { readonly field: string }[] }, field: Field): field is StoredField =>
  isFillable(field) && !design.routes.some((route) => route.field === field.id);

/** A condition that every record must meet; a record of which it is unknown meets it. */
export const Check = z
  .object({ id: Id, condition: Expression.min(1, 'needs a condition'), message: z.string().trim().min(1, 'needs a sentence').max(300) })
  .readonly();
export type Check = z.infer<typeof Check>;

/** Fields that no two records of the table can have alike, all together. A record in which one of them is empty is alike to none. */
export const UniqueTogether = z
  .object({
    id: Id,
    fields: z.array(Id).min(2, 'needs two fields at least').max(5, 'takes five fields at most').readonly(),
    /** "Oak" and "OAK" are the same. */
    anyCase: z.literal(true).optional(),
  })
  .readonly();
export type UniqueTogether = z.infer<typeof UniqueTogether>;

export const Table = z
  .object({
    id: Id,
    name: Label,
    slug: Slug,
    description: Description,
    /** The builder's own heading under which the table is on the shelf and in the diagram; empty when it is under none. */
    section: z.string().max(60).default(''),
    /** The expression that says what a record is called wherever it is named or picked; empty: by its number. */
    caption: Expression.default(''),
    fields: z.array(Field).max(300).readonly(),
    checks: z.array(Check).max(50).readonly().default([]),
    uniqueTogether: z.array(UniqueTogether).max(10).readonly().default([]),
    /** Fields that pickers show beside what a record is called, and search. */
    shownWith: z.array(Id).max(4).readonly().optional(),
    /**
     * It only says which records of two tables belong together, and is not shown as a table: the forms of both tables show
     * records of the other.
     */
    isLink: z.boolean().default(false),
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
    /** Of a table with itself: no record is its own parent. */
    neverOwn: z.boolean().optional(),
  })
  .readonly();
export type Relationship = z.infer<typeof Relationship>;

/**
 * What a role can do with records of one table. Grants only add up: a record or field is open as soon as one grant opens
 * it, and there is no order among them.
 */
export const Grant = z
  .object({
    id: Id,
    table: Id,
    see: z.boolean().default(true),
    add: z.boolean().default(false),
    change: z.boolean().default(false),
    remove: z.boolean().default(false),
    /** Save as a file what it lets see. */
    export: z.boolean().default(false),
    /** Only for records that meet it; empty: for all. It is asked of the records as they are, no matter who looks. */
    condition: Expression.default(''),
    /** Fields that this grant does not show. */
    hidden: z.array(Id).max(300).readonly().default([]),
    /** Fields that this grant shows and does not let change. */
    locked: z.array(Id).max(300).readonly().default([]),
  })
  .readonly();
export type Grant = z.infer<typeof Grant>;

export const Role = z
  .object({
    id: Id,
    name: Label,
    description: Description,
    /** Every record of every table, those made later among them. */
    everything: z.boolean().default(false),
    grants: z.array(Grant).max(500).readonly().default([]),
    /** The menu of the Desk; its first page is where the Desk opens. Empty: every page that may be seen. */
    menu: z.array(Page).max(200).readonly().default([]),
  })
  .readonly();
export type Role = z.infer<typeof Role>;

/** People of the app can each be tied to a record of a table: `me.Keeper` is that record in expressions. */
export const Tie = z.object({ id: Id, name: Label, table: Id }).readonly();
export type Tie = z.infer<typeof Tie>;

/** What an app begins with: everyone who joins works with everything, until the builder decides otherwise. */
export const teamRole: Role = {
  id: 'team',
  name: 'Team',
  description: 'Works with every record of every table.',
  everything: true,
  grants: [],
  menu: [],
};

/** The address of a place in a map service, with `{latitude}` and `{longitude}` where the numbers go. */
export const MapAddress = z
  .string()
  .trim()
  .max(300)
  .refine((text) => /^https?:\/\/[^\s<>"]+$/u.test(text) && text.includes('{latitude}') && text.includes('{longitude}'), {
    message: 'must be a web address with {latitude} and {longitude} in it',
  });

export const AppDesignShape = z
  .object({
    format: z.literal(10),
    name: Label,
    /** In which dates and times are read and written, by its name in the IANA database. */
    timeZone: z.string().max(60).refine(isZone, 'is no time zone').default('UTC'),
    /** How numbers and dates are written, where a person has not chosen a way of their own. */
    region: Region.default(defaultRegion),
    /** Where places are shown outside of the app; null: nowhere. */
    mapAddress: MapAddress.nullable().default(null),
    tables: z.array(Table).max(500).readonly(),
    relationships: z.array(Relationship).readonly(),
    forms: z.array(Form).readonly(),
    lists: z.array(List).readonly(),
    queries: z.array(SavedQuery).max(500).readonly().default([]),
    reports: z.array(Report).max(500).readonly().default([]),
    dashboards: z.array(Dashboard).max(200).readonly().default([]),
    routes: z.array(Route).max(100).readonly().default([]),
    automations: z.array(Automation).max(200).readonly().default([]),
    roles: z.array(Role).max(100).readonly().default([teamRole]),
    ties: z.array(Tie).max(20).readonly().default([]),
    sections: z.array(Section).max(200).readonly().default([]),
    notes: z.array(DiagramNote).max(200).readonly().default([]),
  })
  .readonly();

/**
 * The kinds of part, the list of each in a design, and whether the two generic changes add or replace one (`put`) and remove
 * it; else only changes of its own do.
 */
export const partLists = {
  table: { key: 'tables', put: false, remove: true },
  relationship: { key: 'relationships', put: false, remove: false },
  form: { key: 'forms', put: true, remove: true },
  list: { key: 'lists', put: true, remove: true },
  query: { key: 'queries', put: true, remove: true },
  report: { key: 'reports', put: true, remove: true },
  dashboard: { key: 'dashboards', put: true, remove: true },
  route: { key: 'routes', put: true, remove: true },
  automation: { key: 'automations', put: true, remove: true },
  role: { key: 'roles', put: true, remove: true },
  tie: { key: 'ties', put: true, remove: true },
  section: { key: 'sections', put: true, remove: true },
  note: { key: 'notes', put: true, remove: true },
} as const;
export type PartName = keyof typeof partLists;
export type PartKey = (typeof partLists)[PartName]['key'];

declare const parsed: unique symbol;
/** A design whose every name resolves. Only `parseDesign` and `applyChange` make one, so no reader checks again. */
export type AppDesign = z.infer<typeof AppDesignShape> & { readonly [parsed]: true };

export type TableId = string;
export type FieldId = string;
