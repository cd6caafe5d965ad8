/** What hinders a plan, which reads expressions: apart from its shape, which every browser loads. */
import type { AppDesign, StoredField, Table } from '../design/design.js';
import { isGiven, isStored } from '../design/design.js';
import { fieldOf, linksOf, parentOf, tableOf } from '../design/read.js';
import { check } from '../expression/check.js';
import { wants } from '../feel/wants.js';
import { fieldKinds } from '../fields/kinds.js';
import { planParts } from './plan-parts.js';
import { changesRecords, isReadable, type ImportPlan } from './plan.js';

/** What hinders a plan before a single row is read, against the design as it will be once `changesOf` is applied. */
export function planProblems(plan: ImportPlan, after: AppDesign): string[] {
  return planParts(plan).flatMap((part) => partProblems(part.plan, after));
}

/** What hinders a plan before it can be told which tables it makes. Null: nothing does. */
export function thingsProblem(plan: ImportPlan): string | null {
  const { things, target, columns } = plan;
  if (things.length === 0) return null;
  if (target.kind !== 'new') return 'Only the rows of a new table can be divided among several tables.';
  if (planParts(plan).length <= things.length) return 'A table is not joined to the others. Choose again which tables the file becomes.';
  const used = things.flatMap((thing) => [thing.key, ...thing.columns]);
  if (used.some((column, i) => used.indexOf(column) !== i)) return 'A column can belong to one table only. Choose again.';
  for (const { key, name } of things) {
    const column = columns[key];
    if (column?.kind !== 'new') return `Choose a new field for the column that says which of ${name} a row is about.`;
    if (!fieldKinds[column.field.kind].traits.canBeUnique)
      return `${column.field.name} says which of ${name} a row is about. Choose text or another kind whose values can be unique for it.`;
  }
  return null;
}

function partProblems(plan: ImportPlan, after: AppDesign): string[] {
  const table = tableOf(after, plan.target.table);
  const used = plan.columns.flatMap((column) => (column.kind === 'new' ? [column.field.id] : column.kind === 'field' ? [column.field] : []));
  const numbers = plan.columns.filter((column) => column.kind === 'record');
  if (numbers.length > 1) return ['Two columns are record numbers. Leave one of them out.'];
  if (numbers.length > 0 && plan.target.kind === 'new') return ['A new table has no records to change. Leave the column with the record numbers out.'];
  const problem = matchingProblem(plan, table, numbers.length > 0);
  if (problem !== null) return [problem];
  const links = plan.columns.flatMap((column) => (column.kind === 'link' ? [column.relationship] : []));
  const known = linksOf(after, plan.target.table);
  if (links.some((id) => !known.some((each) => each.id === id))) return ['A column goes into a relationship that this table does not have. Choose again.'];
  const linkedTwice = known.find(({ id }) => links.indexOf(id) !== links.lastIndexOf(id));
  if (linkedTwice !== undefined) return [`Two columns go into ${linkedTwice.childrenName}. Choose another field for one of them.`];
  if (used.length === 0 && (links.length === 0 || numbers.length === 0)) return ['Choose a field for at least one column.'];
  const nameless = plan.columns.find((column) => column.kind === 'field' && column.missing === 'make' && !canMake(after, table, column.field));
  if (nameless?.kind === 'field') return [`Records that ${fieldOf(table, nameless.field).name} refers to can't be made from a name alone. Add them first.`];
  const twice = used.find((id, i) => used.indexOf(id) !== i);
  if (twice !== undefined) return [`Two columns go into ${fieldOf(table, twice).name}. Choose another field for one of them.`];
  const computed = table.fields.find((field) => !isReadable(field) && used.includes(field.id));
  if (computed !== undefined)
    return [
      isStored(computed)
        ? `${computed.name} holds files, which are added in the form. No column can go into it.`
        : `${computed.name} is calculated, so no column can go into it.`,
    ];
  // Rows that change records need no more than what they change; what a row that adds one lacks is said of that row.
  if (changesRecords(plan)) return [];
  return table.fields
    .filter((field) => field.required && field.default === null && !used.includes(field.id))
    .map((field) => `${field.name} is required. Choose a column for it.`);
}

/** The field that alone says what records of a table are called: a name is enough to make one. Undefined: their caption says more, or is calculated. */
export function namingField(design: AppDesign, table: Table): StoredField | undefined {
  const checked = check(table.caption, { design, table: table.id }, wants.anything);
  if (!checked.ok || checked.node.kind !== 'field' || checked.node.of.kind !== 'self') return undefined;
  const { field } = checked.node;
  return isReadable(field) ? field : undefined;
}

/** Whether records that a reference names and that are not there can be made from the name. */
export function canMake(design: AppDesign, table: Table, fieldId: string): boolean {
  const field = table.fields.find((each) => each.id === fieldId);
  if (field?.kind !== 'reference') return false;
  const parent = parentOf(design, field);
  // Records of the table itself are those that the rows add: which is which could not be told apart.
  if (parent.id === table.id) return false;
  const naming = namingField(design, parent);
  const needs = parent.fields.some((each) => each.id !== naming?.id && each.required && each.default === null && !isGiven(each));
  return naming !== undefined && !needs;
}

function matchingProblem({ columns, matching, target }: ImportPlan, table: Table, isNumbered: boolean): string | null {
  const { mode, by } = matching;
  if (target.kind === 'new' || mode === 'add')
    return by.length > 0 && target.kind === 'new' ? 'A new table has no records to match. Choose “Add every row”.' : null;
  if (isNumbered) return by.length > 0 ? 'Rows are matched by record number or by fields, not by both. Leave the record number out, or choose no field.' : null;
  // Nothing to match by: each row adds a record, as it always did.
  if (by.length === 0) return mode === 'both' ? null : 'Choose at least one field to match rows by.';
  const missing = by.find((id) => !columns.some((column) => column.kind === 'field' && column.field === id));
  if (missing === undefined) return null;
  const field = table.fields.find((each) => each.id === missing);
  return field === undefined
    ? 'A field that rows are matched by no longer exists. Choose again.'
    : `Rows are matched by ${field.name}, but no column goes into it.`;
}
