/** The one door through which a design changes. */
import type { AppDesign, Field, FieldId, Relationship, Table, TableId } from '../design/design.js';
import type { Form, FormItem } from '../design/form.js';
import { plainList, type List } from '../design/list.js';
import { inheritChecked } from '../expression/check.js';
import { feelName, key } from '../feel/names.js';
import { kindOf, type FieldPlan } from '../fields/kinds.js';
import { freeSlug, systemColumns } from '../shapes/slug.js';
import { expressionsInPieces, structureInPieces } from './check-design.js';
import { atOnce, type Pieces } from './pieces.js';
import { isRemoval, type DesignChange } from './design-change.js';
import { renamedInPieces } from './expressions.js';
import type { DesignIssue } from './issues.js';
import type { TargetName, UncheckedDesign } from './part.js';
import { findPart, removed, withPart } from './remove.js';
import { touchInPieces } from './touch.js';

export type ChangeResult = { readonly ok: true; readonly design: AppDesign } | { readonly ok: false; readonly issues: readonly DesignIssue[] };

class Refused extends Error {
  constructor(readonly issue: DesignIssue) {
    super(issue.code);
  }
}

type Draft = { -readonly [K in keyof AppDesign]: AppDesign[K] };

const need = <T>(part: T | undefined, what: TargetName, id: string): T => {
  if (part === undefined) throw new Refused({ code: 'unknown', what, id });
  return part;
};

const withColumn = (field: FieldPlan, taken: readonly string[]): Field => ({ ...field, column: freeSlug(field.name, taken) });

function columnsOf(table: Pick<Table, 'fields'>): string[] {
  return [...systemColumns, ...table.fields.map((field) => field.column)];
}

// A list of more columns than this no longer fits a screen; the builder adds further ones by hand.
const mostColumns = 12;

function tableIn(design: Draft, id: TableId): Table {
  return need(
    design.tables.find((table) => table.id === id),
    'table',
    id,
  );
}

function replaceTable(design: Draft, id: TableId, change: (table: Table) => Table): void {
  tableIn(design, id);
  design.tables = design.tables.map((table) => (table.id === id ? change(table) : table));
}

function mapForms(design: Draft, table: TableId, items: (form: Form) => readonly FormItem[]): void {
  design.forms = design.forms.map((form) => (form.table === table ? { ...form, items: items(form) } : form));
}

/** Puts an item into the forms that a table opens with, before their first block of children. */
function joinForms(design: Draft, table: TableId, item: FormItem): void {
  mapForms(design, table, ({ items, isDefault }) => {
    if (!isDefault) return items;
    const firstBlock = items.findIndex((each) => each.kind === 'children');
    const at = firstBlock < 0 ? items.length : firstBlock;
    return [...items.slice(0, at), item, ...items.slice(at)];
  });
}

/** A field's place among its neighbours is kept in the form and the list as in the table. */
function joinScreens(design: Draft, table: Table, field: Field): void {
  joinForms(design, table.id, { kind: 'field', field: field.id, width: kindOf(field).traits.formWidth });
  design.lists = design.lists.map((list) =>
    list.table === table.id && list.isDefault && list.columns.length < mostColumns && kindOf(field).traits.listed
      ? { ...list, columns: [...list.columns, field.id] }
      : list,
  );
}

/** Whether the plain name of a field is its name in expressions: no other field of the table is called nearly the same. */
const isFree = (field: Field, table: Table): boolean =>
  feelName(field.name) !== '' && !table.fields.some((each) => each.id !== field.id && key(feelName(each.name)) === key(feelName(field.name)));

function addField(design: Draft, table: TableId, plan: FieldPlan): void {
  const field = withColumn(plan, columnsOf(tableIn(design, table)));
  replaceTable(design, table, (old) => ({
    ...old,
    fields: [...old.fields, field],
    caption: old.caption === '' && kindOf(field).traits.caption && isFree(field, old) ? feelName(field.name) : old.caption,
  }));
  joinScreens(design, tableIn(design, table), field);
}

function removeField(design: Draft, table: TableId, id: FieldId): void {
  need(
    tableIn(design, table).fields.find((field) => field.id === id),
    'field',
    id,
  );
  take(design, 'field', id);
}

/** Removes a part, or a field, with all that goes along. */
function take(design: Draft, to: TargetName, id: string): void {
  const result = removed<UncheckedDesign>(design, to, id);
  if (!result.ok) throw new Refused(result.issue);
  Object.assign(design, result.design);
}

function changeField(design: Draft, tableId: TableId, plan: FieldPlan): void {
  const table = tableIn(design, tableId);
  const old = need(
    table.fields.find((each) => each.id === plan.id),
    'field',
    plan.id,
  );
  if ((old.kind === 'formula') !== (plan.kind === 'formula')) throw new Refused({ code: 'formula_kind', field: old.name });
  if (
    (old.kind === 'reference') !== (plan.kind === 'reference') ||
    (old.kind === 'reference' && plan.kind === 'reference' && old.relationship !== plan.relationship)
  ) {
    throw new Refused({ code: 'relationship_kind', field: old.name });
  }
  // Its column in the database is called as it was made: views follow today's labels.
  const field: Field = { ...plan, column: old.column };
  replaceTable(design, tableId, (item) => ({
    ...item,
    fields: item.fields.map((each) => (each.id === field.id ? field : each)),
  }));
}

function addTable(design: Draft, change: Extract<DesignChange, { kind: 'add_table' }>): void {
  const slug = freeSlug(
    change.name,
    design.tables.map((table) => table.slug),
  );
  const { id, name, description, section } = change;
  design.tables = [...design.tables, { id, name, slug, description, section, caption: '', checks: [], uniqueTogether: [], isLink: false, fields: [] }];
  const form: Form = { id: change.form, table: id, name, roles: [], isDefault: true, items: [] };
  const list: List = { id: change.list, table: id, name, roles: [], isDefault: true, columns: [], ...plainList };
  design.forms = [...design.forms, form];
  design.lists = [...design.lists, list];
  for (const field of change.fields) addField(design, id, field);
}

function relate(design: Draft, change: Omit<Extract<DesignChange, { kind: 'add_relationship' }>, 'kind'>): void {
  tableIn(design, change.parent);
  tableIn(design, change.child);
  const relationship: Relationship = {
    id: change.id,
    parent: change.parent,
    child: change.child,
    field: change.fieldId,
    childrenName: change.childrenName,
    whenParentRemoved: change.whenParentRemoved,
    ...(change.parent === change.child ? { neverOwn: true } : {}),
  };
  design.relationships = [...design.relationships, relationship];
  addField(design, change.child, {
    kind: 'reference',
    id: change.fieldId,
    name: change.fieldName,
    description: '',
    required: change.required,
    unique: change.unique ?? false,
    relationship: change.id,
    default: null,
  });
}

function addRelationship(design: Draft, change: Extract<DesignChange, { kind: 'add_relationship' }>): void {
  relate(design, change);
  mapForms(design, change.parent, ({ items, isDefault }) => (isDefault ? [...items, { kind: 'children', relationship: change.id }] : items));
}

/** Each of two tables shows several records of the other: by a table of pairs that nobody sees. */
function addLink(design: Draft, change: Extract<DesignChange, { kind: 'add_link' }>): void {
  const { id, name, form, list, together, sides } = change;
  addTable(design, { kind: 'add_table', id, name, description: '', section: '', fields: [], form, list });
  for (const side of sides) {
    relate(design, {
      id: side.relationship,
      parent: side.table,
      child: id,
      fieldId: side.field,
      fieldName: side.fieldName,
      childrenName: side.shownAs,
      required: true,
      whenParentRemoved: 'remove',
    });
    joinForms(design, side.table, { kind: 'children', relationship: side.relationship });
    design.lists = design.lists.map((each) =>
      each.table === side.table && each.isDefault && each.id !== list ? { ...each, columns: [...each.columns, side.relationship] } : each,
    );
  }
  replaceTable(design, id, (old) => ({ ...old, isLink: true, uniqueTogether: [{ id: together, fields: sides.map((side) => side.field) }] }));
}

function step(design: Draft, change: DesignChange): void {
  switch (change.kind) {
    case 'rename_app':
      design.name = change.name;
      return;
    case 'add_table':
      addTable(design, change);
      return;
    case 'change_table': {
      const { table: id, name, caption, checks, uniqueTogether, shownWith, description, section, isLink } = change;
      replaceTable(design, id, (old) => ({
        ...old,
        name: name ?? old.name,
        description: description ?? old.description,
        section: section ?? old.section,
        caption: caption ?? old.caption,
        checks: checks ?? old.checks,
        uniqueTogether: uniqueTogether ?? old.uniqueTogether,
        ...(shownWith === undefined ? {} : { shownWith }),
        isLink: isLink ?? old.isLink,
      }));
      if (name !== undefined) {
        design.forms = design.forms.map((form) => (form.table === id && form.isDefault && form.roles.length === 0 ? { ...form, name } : form));
        design.lists = design.lists.map((list) => (list.table === id && list.isDefault && list.roles.length === 0 ? { ...list, name } : list));
      }
      return;
    }
    case 'add_field':
      if (change.field.kind === 'reference') throw new Refused({ code: 'relationship_kind', field: change.field.name });
      addField(design, change.table, change.field);
      if (change.at !== undefined) moveField(design, { kind: 'move_field', table: change.table, field: change.field.id, to: change.at });
      return;
    case 'change_field':
      changeField(design, change.table, change.field);
      return;
    case 'move_field':
      moveField(design, change);
      return;
    case 'remove_field':
      removeField(design, change.table, change.field);
      return;
    case 'add_relationship':
      addRelationship(design, change);
      return;
    case 'add_link':
      addLink(design, change);
      return;
    case 'put':
      Object.assign(design, withPart<UncheckedDesign>(design, change.part, change.value));
      if (change.part === 'form') design.forms = withOneOpening(design.forms, change.value);
      if (change.part === 'list') design.lists = withOneOpening(design.lists, change.value);
      return;
    case 'remove':
      need(findPart(design, change.part, change.id), change.part, change.id);
      take(design, change.part, change.id);
      return;
    case 'set_time_zone':
      design.timeZone = change.timeZone;
      return;
    case 'set_region':
      design.region = change.region;
      return;
    case 'set_map':
      design.mapAddress = change.address;
      return;
    case 'change_relationship':
      need(
        design.relationships.find((relationship) => relationship.id === change.relationship),
        'relationship',
        change.relationship,
      );
      design.relationships = design.relationships.map((relationship) =>
        relationship.id === change.relationship
          ? {
              ...relationship,
              childrenName: change.childrenName ?? relationship.childrenName,
              whenParentRemoved: change.whenParentRemoved ?? relationship.whenParentRemoved,
              ...(change.neverOwn === undefined ? {} : { neverOwn: change.neverOwn }),
            }
          : relationship,
      );
      return;
    default:
      change satisfies never;
  }
}

const byFieldOrder = (table: Table) => (a: FieldId, b: FieldId) =>
  table.fields.findIndex((field) => field.id === a) - table.fields.findIndex((field) => field.id === b);

function moveField(design: Draft, change: Extract<DesignChange, { kind: 'move_field' }>): void {
  const moved = need(
    tableIn(design, change.table).fields.find((field) => field.id === change.field),
    'field',
    change.field,
  );
  // Screens with the fields in the order of the table follow it; an order that a builder gave them is kept.
  const before = byFieldOrder(tableIn(design, change.table));
  const isField = (id: string): boolean => tableIn(design, change.table).fields.some((field) => field.id === id);
  replaceTable(design, change.table, (old) => {
    const rest = old.fields.filter((field) => field.id !== moved.id);
    return { ...old, fields: [...rest.slice(0, change.to), moved, ...rest.slice(change.to)] };
  });
  const after = byFieldOrder(tableIn(design, change.table));
  const reordered = (ids: readonly FieldId[]): readonly FieldId[] => (isSorted(ids, before) ? [...ids].sort(after) : ids);
  design.lists = design.lists.map((list) => {
    if (list.table !== change.table) return list;
    const [links, columns] = [list.columns.filter((id) => !isField(id)), list.columns.filter(isField)];
    return { ...list, columns: [...reordered(columns), ...links] };
  });
  mapForms(design, change.table, ({ items }) => {
    const fields = items.filter((item) => item.kind === 'field');
    const ordered = reordered(fields.map((item) => item.field)).map((id) => fields.find((item) => item.field === id) as FormItem);
    // Headings and texts between the fields keep their place.
    return items.map((item) => (item.kind === 'field' ? (ordered.shift() as FormItem) : item));
  });
}

const isSorted = <T>(list: readonly T[], order: (a: T, b: T) => number): boolean =>
  list.every((nonNullable, i) => i === 0 || order(list[i - 1] as T, nonNullable) <= 0);

/** The one that was made to open for everybody takes that from the one that did before. */
const withOneOpening = <S extends Form | List>(parts: readonly S[], put: Form | List): readonly S[] =>
  put.isDefault && put.roles.length === 0
    ? parts.map((part) => (part.id !== put.id && part.table === put.table && part.isDefault && part.roles.length === 0 ? { ...part, isDefault: false } : part))
    : parts;

/** Applies one change. The old design stays as it was; a change that would break a design is refused with the reasons. */
export const applyChange = (design: AppDesign, change: DesignChange): ChangeResult => atOnce(changeInPieces(design, change));
function* changeInPieces(design: AppDesign, change: DesignChange): Pieces<ChangeResult> {
  const draft: Draft = { ...design };
  try {
    step(draft, change);
  } catch (error) {
    if (error instanceof Refused) return { ok: false, issues: [error.issue] };
    throw error;
  }
  const touch = yield* touchInPieces(design, draft);
  yield;
  const after = yield* renamedInPieces(design, draft, touch.canTouch);
  const structure = yield* structureInPieces(after);
  const issues = structure.length > 0 ? structure : yield* expressionsInPieces(after, touch.asks);
  if (issues.length > 0) return { ok: false, issues: isRemoval(change) ? asUses(issues) : issues };
  yield;
  inheritChecked(design, after, touch.canTouch);
  return { ok: true, design: after };
}

/** An expression that lacks what was to go was right until then: what is wrong is the removal. */
function asUses(issues: readonly DesignIssue[]): readonly DesignIssue[] {
  const places = issues.flatMap((issue) => (issue.code === 'expression' ? [issue.place] : []));
  return places.length < issues.length ? issues : [{ code: 'still_used', places }];
}

/** Applies changes in order, all or none. */
export const applyChanges = (design: AppDesign, changes: readonly DesignChange[]): ChangeResult => atOnce(changesInPieces(design, changes));
export function* changesInPieces(design: AppDesign, changes: readonly DesignChange[]): Pieces<ChangeResult> {
  let current = design;
  for (const change of changes) {
    const result = yield* changeInPieces(current, change);
    if (!result.ok) return result;
    current = result.design;
  }
  return { ok: true, design: current };
}
