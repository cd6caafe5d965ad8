/** What a person decides about an import, and what follows from it. */
import { z } from 'zod';
import type { DesignChange } from '../parts/design-change.js';
import { Expression, Id, Label } from '../shapes/shapes.js';
import { isStored, type AppDesign, type Field, type StoredField } from '../design/design.js';
import { FieldPlan, fieldKinds, kindOf } from '../fields/kinds.js';
import { linksOf, tableOf } from '../design/read.js';
import { recordHeading } from '../export/csv.js';
import { dateOrders } from '../values/dates.js';
import type { Region } from '../values/regions.js';
import { numberStyles, type NumberStyle } from '../values/numbers.js';
import { Matching, plainMatching } from './matching.js';
import { FileReading } from './reading.js';
import { tablesOf } from './plan-parts.js';
import { plainReading, type ColumnSurvey } from './survey.js';
import { ThingPlan } from './thing-plan.js';

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

/** A column behind those of the file, computed from each row. */
const ComputedColumn = z.object({ name: Label, expression: Expression });
export type ComputedColumn = z.infer<typeof ComputedColumn>;

export const ImportPlan = z.object({
  reading: FileReading,
  target: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('new'), table: Id, name: Label, form: Id, list: Id }),
    z.object({ kind: z.literal('table'), table: Id }),
  ]),
  computed: z.array(ComputedColumn).max(50).default([]),
  /** One for each column of the file, in its order, and for each that is computed. */
  columns: z.array(ColumnPlan).min(1).max(1000),
  badCells: z.enum(['refuse', 'empty']),
  /** Which records rows are about, in a table that has some. */
  matching: Matching.default(plainMatching),
  /** Whether an empty cell empties the field of a record that is there, or leaves it as it is. */
  emptyCells: z.enum(['empty', 'keep']).default('empty'),
  /** What the rows repeat and what gets a table of its own, beside a new table of the rows. */
  things: z.array(ThingPlan).max(50).default([]),
});
export type ImportPlan = z.infer<typeof ImportPlan>;

/** The design changes an import begins with: its new tables, or the fields it adds to an existing one. */
export function changesOf(plan: ImportPlan): DesignChange[] {
  const { target } = plan;
  if (target.kind === 'new') return tablesOf(plan);
  return plan.columns.flatMap((column) => (column.kind === 'new' ? [{ kind: 'add_field', table: target.table, field: column.field }] : []));
}

/** Whether the values of a field can be read from a file. */
export const isReadable = (field: Field): field is StoredField => isStored(field) && kindOf(field).cells.reader !== null;

/** Whether rows can be about records that are there already. */
export const changesRecords = ({ columns, matching }: { readonly columns: readonly ColumnPlan[]; readonly matching: Matching }): boolean =>
  matching.mode !== 'add' && (matching.by.length > 0 || columns.some((column) => column.kind === 'record'));

/** A plan for another file of the same columns: into the fields that it made then, as far as they are still there. Null: its table is gone. */
export function asRepeated(plan: ImportPlan, design: AppDesign): ImportPlan | null {
  const table = design.tables.find((each) => each.id === plan.target.table);
  if (table === undefined) return null;
  const links = linksOf(design, table.id).map((link) => link.id);
  const columns = plan.columns.map((column, at): ColumnPlan => {
    const refers = plan.things.find((thing) => thing.key === at && thing.within === table.id);
    if (refers !== undefined && table.fields.some((each) => each.id === refers.field))
      return { kind: 'field', field: refers.field, reading: plainReading, missing: 'complain' };
    if (column.kind === 'link') return links.includes(column.relationship) ? column : { kind: 'skip' };
    if (column.kind !== 'field' && column.kind !== 'new') return column;
    const id = column.kind === 'new' ? column.field.id : column.field;
    const field = table.fields.find((each) => each.id === id);
    return field === undefined || !isReadable(field)
      ? { kind: 'skip' }
      : { kind: 'field', field: id, reading: column.reading, missing: column.kind === 'field' ? column.missing : 'complain' };
  });
  const by = plan.matching.by.filter((id) => columns.some((column) => column.kind === 'field' && column.field === id));
  const matching = by.length < plan.matching.by.length ? plainMatching : plan.matching;
  return { ...plan, columns, matching, target: { kind: 'table', table: table.id }, things: [] };
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
    if (column.name.toLowerCase() === heading && columns.findIndex((columnSurvey) => columnSurvey.name.toLowerCase() === heading) === at)
      return { kind: 'record' };
    const match = table?.fields.find((field) => isReadable(field) && field.name.toLowerCase() === column.name.toLowerCase() && !used.has(field.id));
    if (match !== undefined) {
      used.add(match.id);
      return { kind: 'field', field: match.id, reading: column.reading, missing: 'complain' };
    }
    const link =
      tableId === null
        ? undefined
        : linksOf(design, tableId).find((each) => each.childrenName.toLowerCase() === column.name.toLowerCase() && !used.has(each.id));
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
