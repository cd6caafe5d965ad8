/** The design once two tables are one: what was made of the one that goes is made of the other, and keeps to the records it had. */
import { isStored, partLists, type AppDesign, type Field, type Grant, type Role, type StoredField, type Table } from '../design/design.js';
import { itemKey, type Form, type FormItem } from '../design/form.js';
import type { List } from '../design/list.js';
import { fieldOf, relationshipOf, tableOf } from '../design/read.js';
import { mostQuickFilters } from '../design/saved-query.js';
import { membersOf } from '../expression/names.js';
import { feelName } from '../feel/names.js';
import type { DesignChange } from '../parts/design-change.js';
import { withReplaced } from '../parts/expressions.js';
import { partKind, partNames, partsOf, withList } from '../parts/kinds.js';
import type { UncheckedDesign } from '../parts/part.js';
import { freeName, freeSlug, systemColumns } from '../shapes/slug.js';
import type { MergeTables as Plan } from './plans.js';
import { reachOf } from './rights.js';
import { labelInExpressions, nameInExpressions, namesOn, swapped, withChanges, withReference } from './tools.js';

/** The fields whose values can't go along. References and formulas do. */
export const leftBehind = (plan: Plan, from: Table): readonly StoredField[] =>
  from.fields.filter((field): field is StoredField => isStored(field) && field.kind !== 'reference' && !plan.carried.some((each) => each.field === field.id));

export function mergedDesign(plan: Plan, design: AppDesign, between: AppDesign): UncheckedDesign {
  const [from, into] = [tableOf(design, plan.from), tableOf(design, plan.into)];
  const names = [...namesOn(between, tableOf(between, into.id))];
  const formulas = from.fields.flatMap((field): (readonly [string, string])[] => {
    if (field.kind !== 'formula') return [];
    const name = freeName(field.name, names);
    names.push(name);
    return [[field.id, name]];
  });
  const without = withChanges(
    between,
    leftBehind(plan, from).map((field): DesignChange => ({ kind: 'remove_field', table: from.id, field: field.id })),
  );
  // While both tables are there, expressions are read as they are and written as they have to be.
  const told = withReplaced(between, without, newNames(plan, design, between, formulas));
  const mark = nameInExpressions(between, into.id, plan.mark.field);
  const isOf = (table: Table): string => `${mark} = ${labelInExpressions(table.name)}`;
  const fitting = keepingTo(told, from, into, isOf);
  const ids = newIds(plan, design);
  const went = new Set([plan.went.field, plan.went.relationship]);
  const parts = {
    forms: fitting.forms.map((form) =>
      withEachOnce(swapped(form.table === from.id ? formThere(form, plan, fitting, from) : markedRows(form, plan, fitting, from), ids), went),
    ),
    lists: fitting.lists.map((list) => {
      const there = list.table === from.id ? listThere(list, plan, fitting) : list.table === into.id ? listOfBoth(list, plan) : list;
      const { columns, ...rest } = swapped(there, ids);
      return { ...rest, columns: [...new Set(columns)].filter((id) => !went.has(id)) };
    }),
    roles: swapped(
      fitting.roles.map((role) => rightsThere(role, plan, design, [from, into])),
      ids,
    ),
    automations: swapped(
      fitting.automations.map((automation) => ({
        ...automation,
        steps: automation.steps.map((step) =>
          step.kind === 'add' && step.table === from.id
            ? { ...step, values: [...step.values, { field: plan.mark.field, itself: false, expression: labelInExpressions(from.name) }] }
            : step,
        ),
      })),
      ids,
    ),
    tables: fitting.tables.flatMap((table) => {
      if (table.id === from.id) return [];
      const referring = plan.children.reduce(
        (all, each) => {
          const { child, field } = relationshipOf(design, each.relationship);
          return child === all.id ? withReference(all, fieldOf(all, field), each.field, new Map([[field, each.field]])) : all;
        },
        { ...table, isLink: tableOf(design, table.id).isLink },
      );
      return [table.id === into.id ? tableThere(referring, tableOf(fitting, from.id), { into, plan, ids, isOf, formulas: new Map(formulas) }) : referring];
    }),
    relationships: fitting.relationships.flatMap((each) => {
      if (each.child === from.id || each.parent === from.id) return [];
      const old = plan.references.find((other) => other.made === each.id);
      return [old === undefined ? each : { ...each, childrenName: relationshipOf(design, old.relationship).childrenName }];
    }),
  };
  return { ...swapped({ ...fitting, tables: [], forms: [], lists: [], roles: [], automations: [], relationships: [] }, ids), ...parts };
}

/** What expressions call the fields, and the records that belong to one, where they go. */
function newNames(plan: Plan, design: AppDesign, between: AppDesign, formulas: readonly (readonly [string, string])[]): ReadonlyMap<string, string> {
  const childrenName = (id: string): string =>
    membersOf(between, plan.into).find((member) => member.kind === 'children' && member.relationship.id === id)?.name ?? '';
  return new Map([
    ...plan.carried.map((each) => [each.field, nameInExpressions(between, plan.into, each.to)] as const),
    ...plan.references.map((each) => [relationshipOf(design, each.relationship).field, nameInExpressions(between, plan.into, each.field)] as const),
    ...formulas.map(([id, name]) => [id, feelName(name)] as const),
    ...plan.children.map((each) => [each.relationship, childrenName(each.made)] as const),
  ]);
}

const newIds = (plan: Plan, design: AppDesign): ReadonlyMap<string, string> =>
  new Map([
    [plan.from, plan.into],
    ...plan.carried.map((each) => [each.field, each.to] as const),
    ...[...plan.references, ...plan.children].flatMap((each) => [
      [each.relationship, each.made] as const,
      [relationshipOf(design, each.relationship).field, each.field] as const,
    ]),
  ]);

/** Parts that are made of records of one of the tables ask for these alone. Lists of the table that stays show all that is in it. */
const keepingTo = (design: AppDesign, from: Table, into: Table, isOf: (table: Table) => string): AppDesign =>
  partNames.reduce((all, name) => {
    const { narrowed } = partKind(name);
    if (narrowed === undefined) return all;
    const stays = partsOf(all, name).map((part) => narrowed(name === 'list' ? part : narrowed(part, into.id, isOf(into)), from.id, isOf(from)));
    return withList(all, partLists[name].key, stays);
  }, design);

/** A name for a form or list of the table that goes, among those where it goes. */
const nameThere = (part: Form | List, plan: Plan, parts: readonly (Form | List)[]): string =>
  freeName(
    part.name,
    parts.filter((each) => each !== part && (each.table === plan.into || each.table === plan.from)).map((each) => each.name),
  );

/** A form of the table that goes: it fills in what its records are, and asks for what was required there. */
function formThere(form: Form, plan: Plan, design: AppDesign, from: Table): Form {
  const fills: FormItem = { kind: 'field', field: plan.mark.field, width: 6, fill: labelInExpressions(from.name), readOnlyIf: 'true' };
  const items = markedRows(form, plan, design, from).items.map((item) => {
    const isRequired = item.kind === 'field' && from.fields.some((field) => field.id === item.field && field.required && isStored(field));
    return isRequired && item.requiredIf === undefined ? { ...item, requiredIf: 'true' } : item;
  });
  return { ...form, name: nameThere(form, plan, design.forms), isDefault: false, items: [...items, fills] };
}

/** A form whose rows are records of the table that goes: new rows are filled with that. */
function markedRows(form: Form, plan: Plan, design: AppDesign, from: Table): Form {
  const fill = { field: plan.mark.field, value: labelInExpressions(from.name) };
  const isRows = (item: FormItem): boolean => item.kind === 'children' && relationshipOf(design, item.relationship).child === from.id;
  return form.items.some(isRows)
    ? { ...form, items: form.items.map((item) => (item.kind === 'children' && isRows(item) ? { ...item, fills: [...(item.fills ?? []), fill] } : item)) }
    : form;
}

function listThere(list: List, plan: Plan, design: AppDesign): List {
  // Its records open in the form that they opened in, and are made there.
  const form = list.form ?? design.forms.find((each) => each.table === plan.from && each.isDefault && each.roles.length === 0)?.id;
  return { ...list, name: nameThere(list, plan, design.lists), isDefault: false, ...(form === undefined ? {} : { form }) };
}

/** A list of the table that stays shows the records of both, and can be narrowed to either. */
const listOfBoth = (list: List, plan: Plan): List =>
  list.quickFilters.length < mostQuickFilters ? { ...list, quickFilters: [...list.quickFilters, plan.mark.field] } : list;

/** What was made for old and new parts alike is there once, in the place of the old one. */
function withEachOnce(form: Form, went: ReadonlySet<string>): Form {
  const keys = new Set(went);
  const items = form.items.filter((item) => {
    const key = itemKey(item);
    if (keys.has(key)) return false;
    keys.add(key);
    return true;
  });
  return { ...form, items };
}

/**
 * Nobody sees or changes more than before: neither records of the other table nor fields that only these had. A formula of the one
 * is never shown of records of the other: it could tell of fields that are hidden there.
 */
function rightsThere(role: Role, plan: Plan, design: AppDesign, [from, into]: readonly [Table, Table]): Role {
  if (role.everything) return role;
  const had = new Set(plan.carried.map((each) => each.to));
  const made = plan.carried.filter((each) => !into.fields.some((field) => field.id === each.to));
  const references = plan.references.map((each) => ({ field: relationshipOf(design, each.relationship).field, to: each.field }));
  const closed = (grant: Grant, fields: readonly { readonly id: string; readonly sees: boolean; readonly changes: boolean }[]): Grant => ({
    ...grant,
    hidden: [...grant.hidden, ...fields.filter((each) => !each.sees).map((each) => each.id)],
    locked: [...grant.locked, ...fields.filter((each) => each.sees && !each.changes).map((each) => each.id)],
  });
  const never = (field: Field) => ({ id: field.id, sees: false, changes: false });
  const fromThere = into.fields
    .filter((field) => !had.has(field.id))
    .map((field) => (field.kind === 'formula' ? never(field) : { id: field.id, ...reachOf(role, into.id, field.id) }));
  const fromHere = [
    ...[...made, ...references].map((each) => ({ id: each.to, ...reachOf(role, plan.from, each.field) })),
    ...from.fields.filter((field) => field.kind === 'formula').map(never),
  ];
  return {
    ...role,
    grants: role.grants.map((grant) => (grant.table === plan.from ? closed(grant, fromThere) : grant.table === into.id ? closed(grant, fromHere) : grant)),
  };
}

interface There {
  /** The table as it was. */
  readonly into: Table;
  readonly plan: Plan;
  readonly ids: ReadonlyMap<string, string>;
  readonly isOf: (table: Table) => string;
  readonly formulas: ReadonlyMap<string, string>;
}
/** The table with what the other one had: its formulas, its checks, and what makes its records differ. */
function tableThere(now: Table, from: Table, { into, plan, ids, isOf, formulas }: There): Table {
  const columns = [...systemColumns, ...now.fields.map((field) => field.column)];
  const computed = from.fields.flatMap((field): Field[] => {
    const name = formulas.get(field.id);
    if (name === undefined) return [];
    const column = freeSlug(name, columns);
    columns.push(column);
    return [{ ...field, name, column }];
  });
  const wasUnique = new Set(from.fields.flatMap((field) => (field.unique ? [ids.get(field.id)] : [])));
  const isNew = new Set(
    [...plan.carried.map((each) => each.to), ...plan.references.map((each) => each.field)].filter((id) => !into.fields.some((field) => field.id === id)),
  );
  const only = (table: Table, condition: string): string => `not(${isOf(table)}) or (${condition})`;
  return {
    ...now,
    fields: [
      ...now.fields.map((field): Field => {
        if (field.id === plan.mark.field) return { ...field, required: true } as Field;
        return isNew.has(field.id) && wasUnique.has(field.id) ? ({ ...field, unique: true } as Field) : field;
      }),
      ...computed,
    ],
    checks: [
      ...now.checks.map((check) => ({ ...check, condition: only(into, check.condition) })),
      ...from.checks.map((check) => ({ ...check, condition: only(from, check.condition) })),
    ],
    uniqueTogether: [
      ...now.uniqueTogether,
      ...from.uniqueTogether.map((each) => swapped(each, ids)).filter((each) => each.fields.every((id) => isNew.has(id))),
    ],
  };
}
