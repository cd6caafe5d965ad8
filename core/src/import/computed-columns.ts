/** Columns that a file does not have and that are computed from each of its rows: parts of one, or several joined. */
import type { AppDesign } from '../design/design.js';
import { withoutGuard } from '../export/csv.js';
import { shown, type Circumstances } from '../expression/bring.js';
import { check } from '../expression/check.js';
import { evaluate, type Surroundings } from '../expression/evaluate.js';
import { TooMuch } from '../expression/not-computed.js';
import { wants } from '../feel/wants.js';
import { kindOf } from '../fields/kinds.js';
import type { Value } from '../fields/value.js';
import { emptyDesign } from '../parts/parse.js';
import { suggestField, type ComputedColumn } from './plan.js';
import type { ColumnSurvey } from './survey.js';

/** The table whose records the rows are, for expressions over them. */
export const rowTable = 'row';

/** A design in which the columns of a file are fields: what is written over a row is checked against it. */
export function rowDesign(columns: readonly ColumnSurvey[], app: Pick<AppDesign, 'timeZone' | 'region'>): AppDesign {
  const fields = columns.map((column, at) => {
    // A row has the words themselves, not one of a few choices.
    const kind = column.kind === 'choice' ? 'text' : column.kind;
    return { ...suggestField({ ...column, kind }, () => `c${at}`, app.region), column: `c${at}` };
  });
  const table = { id: rowTable, name: 'Row', slug: 'row', description: '', section: '', caption: '', checks: [], uniqueTogether: [], isLink: false, fields };
  return { ...emptyDesign('File'), timeZone: app.timeZone, region: app.region, tables: [table] };
}

/** What is wrong with an expression over the rows of a file; null: nothing. */
export function computedProblem({ name, expression }: ComputedColumn, design: AppDesign): string | null {
  const checked = check(expression, { design, table: rowTable }, wants.plain);
  return checked.ok ? null : `The computed column ${name} can't be read: ${checked.problems[0]?.message ?? 'it is empty'}`;
}

/**
 * Makes the function that gives a row its computed cells, behind those of the file.
 * @param isGuarded whether texts that look like a calculation have a mark in front
 */
export function rowComputer(
  computed: readonly ComputedColumn[],
  columns: readonly ColumnSurvey[],
  design: AppDesign,
  around: Circumstances,
  isGuarded: boolean,
): (cells: readonly string[]) => readonly string[] {
  const nodes = computed.map(({ expression }) => {
    const checked = check(expression, { design, table: rowTable }, wants.plain);
    return checked.ok ? checked.node : null;
  });
  const fields = design.tables[0]?.fields ?? [];
  const readers = fields.map((field, at) => kindOf(field).cells.reader?.(field, columns[at]?.reading ?? { numbers: 'point', dates: 'ymd' }, null) ?? null);
  const places = new Map(fields.map((field, at) => [field.id, at]));
  const valueAt = (cells: readonly string[], at: number): Value => {
    const raw = cells[at] ?? '';
    const text = isGuarded ? withoutGuard(raw) : raw;
    const [field, reader] = [fields[at], readers[at]];
    if (text.trim() === '' || field === undefined || reader === null || reader === undefined) return null;
    const read = reader(text);
    return typeof read === 'string' ? kindOf(field).cells.value(read) : null;
  };
  return (cells) => {
    const surroundings: Surroundings = {
      ...around,
      self: { kind: 'record', table: rowTable, id: 0 },
      records: { value: (_, field) => valueAt(cells, places.get(field.id) ?? -1), children: () => [] },
    };
    const file = Array.from({ length: columns.length }, (_, at) => cells[at] ?? '');
    return [...file, ...nodes.map((node) => (node === null ? '' : cellOf(node, surroundings))), ...cells.slice(columns.length)];
  };
}

function cellOf(node: Parameters<typeof evaluate>[0], around: Surroundings): string {
  try {
    const value = shown(evaluate(node, around), around.zone);
    return value === null ? '' : value === true ? 'yes' : value === false ? 'no' : String(value);
  } catch (error) {
    if (error instanceof TooMuch) return '';
    throw error;
  }
}
