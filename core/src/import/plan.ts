/** What a person decides about an import, and what follows from it. */
import { z } from 'zod';
import type { DesignChange } from '../parts/design-change.js';
import { Id, Label } from '../shapes/shapes.js';
import { isStored, type AppDesign, type Field, type StoredField, type Table } from '../design/design.js';
import { check } from '../expression/check.js';
import { wants } from '../feel/wants.js';
import { FieldPlan, fieldKinds, kindOf } from '../fields/kinds.js';
import { fieldOf, linksOf, parentOf, tableOf } from '../design/read.js';
import { recordHeading } from '../export/csv.js';
import { dateOrders } from '../values/dates.js';
import type { Region } from '../values/regions.js';
import { numberStyles, type NumberStyle } from '../values/numbers.js';
import { Matching, plainMatching } from './matching.js';
import { FileReading } from './reading.js';
import type { ColumnSurvey } from './survey.js';

const ReadingShape = z.object({ numbers: z.enum(numberStyles as [NumberStyle, ...NumberStyle[]]), dates: z.enum(dateOrders) });

export const ColumnPlan = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('skip') }),
  /** Into a field that the table has. */
  z.object({
    kind: z.literal('field'),
    field: Id,
    reading: ReadingShape,
    /** What a name of no record does, in a reference: it is a complaint, or a record with this name is made. */
    missing: z.enum(['complain', 'make']).default('complain'),
  }),
  /** Into a field that the import makes. */
  z.object({ kind: z.literal('new'), field: FieldPlan, reading: ReadingShape }),
  /** Names of records of another table, by the list of them that each record of this table has. */
  z.object({ kind: z.literal('link'), relationship: Id }),
  /** The number that a record has in the app: a row with a number changes that record, a row without one adds a record. */
  z.object({ kind: z.literal('record') }),
]);
export type ColumnPlan = z.infer<typeof ColumnPlan>;

export const ImportPlan = z.object({
  reading: FileReading,
  target: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('new'), table: Id, name: Label, form: Id, list: Id }),
    z.object({ kind: z.literal('table'), table: Id }),
  ]),
  /** One for each column of the file, in its order. */
  columns: z.array(ColumnPlan).min(1).max(1000),
  badCells: z.enum(['refuse', 'empty']),
  /** Which records rows are about, in a table that has some. */
  matching: Matching.default(plainMatching),
  /** Whether an empty cell empties the field of a record that is there, or leaves it as it is. */
  emptyCells: z.enum(['empty', 'keep']).default('empty'),
});
export type ImportPlan = z.infer<typeof ImportPlan>;

/** The design changes an import begins with: its new table, or the fields it adds to an existing one. */
export function changesOf(plan: ImportPlan): DesignChange[] {
  const fields = plan.columns.flatMap((column) => (column.kind === 'new' ? [column.field] : []));
  const { target } = plan;
  if (target.kind === 'new')
    return [{ kind: 'add_table', id: target.table, name: target.name, description: '', section: '', form: target.form, list: target.list, fields }];
  return fields.map((field) => ({ kind: 'add_field', table: target.table, field }));
}

/** Whether the values of a field can be read from a file. */
const isReadable = (field: Field): field is StoredField => isStored(field) && kindOf(field).cells.reader !== null;

/** What hinders a plan before a single row is read, against the design as it will be once `changesOf` is applied. */
export function planProblems(plan: ImportPlan, after: AppDesign): string[] {
  const table = tableOf(after, plan.target.table);
  const used = plan.columns.flatMap((column) => (column.kind === 'new' ? [column.field.id] : column.kind === 'field' ? [column.field] : []));
  const numbers = plan.columns.filter((column) => column.kind === 'record');
  if (numbers.length > 1) return ['Two columns are record numbers. Leave one of them out.'];
  if (numbers.length > 0 && plan.target.kind === 'new') return ['A new table has no records to change. Leave the column with the record numbers out.'];
  const problem = matchingProblem(plan, table, numbers.length > 0);
  if (problem !== null) return [problem];
  const links = plan.columns.flatMap((column) => (column.kind === 'link' ? [column.relationship] : []));
  const known = linksOf(after, plan.target.table);
  if (links.some((id) => !known.some((one) => one.id === id))) return ['A column goes into a relationship that this table does not have. Choose again.'];
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
  const field = table.fields.find((one) => one.id === fieldId);
  if (field?.kind !== 'reference') return false;
  const parent = parentOf(design, field);
  const naming = namingField(design, parent);
  const needs = parent.fields.some((one) => one.id !== naming?.id && one.required && one.default === null && kindOf(one).isGiven !== true);
  return naming !== undefined && !needs;
}

/** Whether rows can be about records that are there already. */
export const changesRecords = ({ columns, matching }: { readonly columns: readonly ColumnPlan[]; readonly matching: Matching }): boolean =>
  matching.mode !== 'add' && (matching.by.length > 0 || columns.some((column) => column.kind === 'record'));

function matchingProblem({ columns, matching, target }: ImportPlan, table: Table, isNumbered: boolean): string | null {
  const { mode, by } = matching;
  if (target.kind === 'new' || mode === 'add')
    return by.length > 0 && target.kind === 'new' ? 'A new table has no records to match. Choose “Add every row”.' : null;
  if (isNumbered) return by.length > 0 ? 'Rows are matched by record number or by fields, not by both. Leave the record number out, or choose no field.' : null;
  // Nothing to match by: each row adds a record, as it always did.
  if (by.length === 0) return mode === 'both' ? null : 'Choose at least one field to match rows by.';
  const missing = by.find((id) => !columns.some((column) => column.kind === 'field' && column.field === id));
  if (missing === undefined) return null;
  const field = table.fields.find((one) => one.id === missing);
  return field === undefined
    ? 'A field that rows are matched by no longer exists. Choose again.'
    : `Rows are matched by ${field.name}, but no column goes into it.`;
}

/** A plan for another file of the same columns: into the fields that it made then, as far as they are still there. Null: its table is gone. */
export function asRepeated(plan: ImportPlan, design: AppDesign): ImportPlan | null {
  const table = design.tables.find((one) => one.id === plan.target.table);
  if (table === undefined) return null;
  const links = linksOf(design, table.id).map((one) => one.id);
  const columns = plan.columns.map((column): ColumnPlan => {
    if (column.kind === 'link') return links.includes(column.relationship) ? column : { kind: 'skip' };
    if (column.kind !== 'field' && column.kind !== 'new') return column;
    const id = column.kind === 'new' ? column.field.id : column.field;
    const field = table.fields.find((one) => one.id === id);
    return field === undefined || !isReadable(field)
      ? { kind: 'skip' }
      : { kind: 'field', field: id, reading: column.reading, missing: column.kind === 'field' ? column.missing : 'complain' };
  });
  const by = plan.matching.by.filter((id) => columns.some((column) => column.kind === 'field' && column.field === id));
  const matching = by.length < plan.matching.by.length ? plainMatching : plan.matching;
  return { ...plan, columns, matching, target: { kind: 'table', table: table.id } };
}

/** The field that suits a surveyed column. `newId` makes the id. */
export function suggestField(column: ColumnSurvey, newId: () => string, region: Region): FieldPlan {
  const settings = fieldKinds[column.kind].cells.settingsFor?.({ ...column, region });
  // Its name is as the file has it: whether it can be one is said where the plan is looked at.
  return { kind: column.kind, id: newId(), name: column.name, description: '', required: false, unique: false, default: null, ...settings } as FieldPlan;
}

/** The plan a file starts with: each column into the field of the same name, else into a new one that suits it. */
export function suggestPlan(columns: readonly ColumnSurvey[], design: AppDesign, tableId: string | null, newId: () => string): ColumnPlan[] {
  const table = tableId === null ? null : tableOf(design, tableId);
  const used = new Set<string>();
  const heading = table === null ? null : recordHeading(table).toLowerCase();
  return columns.map((column, at): ColumnPlan => {
    if (column.name.toLowerCase() === heading && columns.findIndex((one) => one.name.toLowerCase() === heading) === at) return { kind: 'record' };
    const match = table?.fields.find((field) => isReadable(field) && field.name.toLowerCase() === column.name.toLowerCase() && !used.has(field.id));
    if (match !== undefined) {
      used.add(match.id);
      return { kind: 'field', field: match.id, reading: column.reading, missing: 'complain' };
    }
    const link =
      tableId === null ? undefined : linksOf(design, tableId).find((one) => one.childrenName.toLowerCase() === column.name.toLowerCase() && !used.has(one.id));
    if (link !== undefined) {
      used.add(link.id);
      return { kind: 'link', relationship: link.id };
    }
    // What no column can go into came from here: our own exports have it.
    const isComputed = table?.fields.some((field) => !isReadable(field) && field.name.toLowerCase() === column.name.toLowerCase()) === true;
    return isComputed || (table !== null && column.filled === 0)
      ? { kind: 'skip' }
      : { kind: 'new', field: suggestField(column, newId, design.region), reading: column.reading };
  });
}
