import type { AppDesign, Field, FieldId, Relationship, Table, TableId } from './design.js';
import type { Form } from './form.js';
import type { List } from './list.js';

/** Raised when a reader of a parsed design asks for something that is not in it: a bug, or a stale id from outside. */
export class NotInDesign extends Error {
  constructor(
    readonly what: 'table' | 'field' | 'relationship' | 'form' | 'list',
    readonly id: string,
  ) {
    super(`No ${what} "${id}" in this design`);
  }
}

function found<T>(part: T | undefined, what: NotInDesign['what'], id: string): T {
  if (part === undefined) throw new NotInDesign(what, id);
  return part;
}

const indexes = new WeakMap<readonly { readonly id: string }[], ReadonlyMap<string, unknown>>();
/** The part of a list with an id: ids of a list are indexed once. */
function withId<T extends { readonly id: string }>(parts: readonly T[], id: string): T | undefined {
  let index = indexes.get(parts);
  if (index === undefined) indexes.set(parts, (index = new Map(parts.map((part) => [part.id, part]))));
  return index.get(id) as T | undefined;
}

export const tableOf = (design: AppDesign, id: TableId): Table => found(withId(design.tables, id), 'table', id);
/** The same where it might not be there. */
export const knownTable = (design: AppDesign, id: TableId): Table | undefined => withId(design.tables, id);
export const fieldOf = (table: Table, id: FieldId): Field => found(withId(table.fields, id), 'field', id);
export const relationshipOf = (design: AppDesign, id: string): Relationship => found(withId(design.relationships, id), 'relationship', id);
/** The form in which records of a table open: that of one of the roles, else that of everybody. */
export const formFor = (design: AppDesign, table: TableId, roles: readonly string[] = []): Form => found(defaultOf(design.forms, table, roles), 'form', table);
/** The list that a table opens with, in the same way. */
export const listFor = (design: AppDesign, table: TableId, roles: readonly string[] = []): List => found(defaultOf(design.lists, table, roles), 'list', table);

function defaultOf<T extends Form | List>(parts: readonly T[], table: TableId, roles: readonly string[]): T | undefined {
  const defaults = parts.filter((part) => part.table === table && part.isDefault);
  return defaults.find((part) => part.roles.some((role) => roles.includes(role))) ?? defaults.find((part) => part.roles.length === 0);
}

/** A form or list of a table by its id, as an address names it; the default one where it names none or one that is not there. */
export const namedForm = (design: AppDesign, table: TableId, id: string | undefined, roles: readonly string[] = []): Form =>
  design.forms.find((form) => form.id === id && form.table === table) ?? formFor(design, table, roles);
export const namedList = (design: AppDesign, table: TableId, id: string | undefined, roles: readonly string[] = []): List =>
  design.lists.find((list) => list.id === id && list.table === table) ?? listFor(design, table, roles);

/** Whether a field of the table tells its records apart by itself, so that people need not know the numbers that records have here. */
export const hasOwnNumber = (table: Table): boolean => table.fields.some((field) => field.unique && field.required);

/** One side of a link: the table whose form shows records of the other, and the field of a pair that names its record. */
export interface LinkSide {
  readonly relationship: Relationship;
  readonly table: Table;
  readonly field: Field;
}
/** The two sides that a link ties together; null when the table is none. */
export function sidesOf(design: AppDesign, link: Table): readonly [LinkSide, LinkSide] | null {
  if (!link.isLink) return null;
  const [first, second] = link.fields.map((field): LinkSide => {
    const relationship = relationshipOf(design, field.kind === 'reference' ? field.relationship : '');
    return { relationship, table: tableOf(design, relationship.parent), field };
  });
  return first === undefined || second === undefined ? null : [first, second];
}
/** Where a list of children leads that is one side of a link; null when its children are records of their own. */
export function otherSide(design: AppDesign, relationship: Relationship): LinkSide | null {
  const sides = sidesOf(design, tableOf(design, relationship.child));
  return sides?.find((side) => side.relationship.id !== relationship.id) ?? null;
}
/** The tables that are shown as tables. */
export const shownTables = (design: AppDesign): readonly Table[] => design.tables.filter((table) => !table.isLink);

/** The relationships in which `table` is the parent, in the order they were made. */
export const childrenOf = (design: AppDesign, table: TableId): readonly Relationship[] =>
  design.relationships.filter((relationship) => relationship.parent === table);

/** Those of them that are one side of a link: lists of records of another table that belong to several. */
export const linksOf = (design: AppDesign, table: TableId): readonly Relationship[] =>
  childrenOf(design, table).filter((relationship) => otherSide(design, relationship) !== null);

/** The table that a reference field points to. */
export function parentOf(design: AppDesign, field: Field): Table {
  if (field.kind !== 'reference') throw new NotInDesign('relationship', field.id);
  return tableOf(design, relationshipOf(design, field.relationship).parent);
}
