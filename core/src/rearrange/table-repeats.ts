/** What the records of a table say again and again: texts that could be a table, and what follows from them or from a reference. */
import { isStored, type AppDesign, type StoredField, type Table } from '../design/design.js';
import { folded } from '../import/dependencies.js';
import { RepeatFinder } from '../import/repeats.js';
import { SqlBuilder, ident, type Statement } from '../sql/sql.js';
import { canBeTable, cannotGo } from './cannot-go.js';
import { textIn } from './tools.js';

/** So many records are looked at, the newest: it is a proposal, and whoever takes it is told what holds for all of them. */
const mostRecords = 10_000;
const mostCells = 500_000;
/** A text of more different values than one for so many records is not worth a table. */
const leastRepeated = 3;
const fewestRecords = 10;

export interface TableRepeat {
  /** A text, or a reference. */
  readonly field: string;
  /** How many different ones there are, and how many records have one. */
  readonly values: number;
  readonly records: number;
  /** The fields that follow from it. */
  readonly carried: readonly string[];
}

/** The fields that are looked at: what can name a thing, and what can go along with it. */
const lookedAt = (design: AppDesign, table: Table): readonly StoredField[] =>
  table.fields.filter(
    (field): field is StoredField => isStored(field) && (canBeTable(design, field) || field.kind === 'reference' || cannotGo(design, table, field) === null),
  );

/** A statement that gives `cells`, the texts of those fields. */
export function compileRepeats(design: AppDesign, table: Table, schema: string): Statement {
  const fields = lookedAt(design, table);
  const sql = new SqlBuilder();
  const most = sql.param(Math.min(mostRecords, Math.floor(mostCells / Math.max(1, fields.length))), 'integer');
  const texts = fields.map((field) => `COALESCE(${textIn('t', field)}, '')`);
  return sql.done(`SELECT ARRAY[${texts.join(', ')}]::text[] AS cells FROM ${ident(schema)}.${ident(table.slug)} AS t ORDER BY t.id DESC LIMIT ${most}`);
}

/** @param rows as `compileRepeats` gives them. Those first from which most follows. */
export function repeatsOf(design: AppDesign, table: Table, rows: readonly (readonly string[])[]): readonly TableRepeat[] {
  const fields = lookedAt(design, table);
  const finder = new RepeatFinder();
  rows.forEach((cells, i) => finder.see(cells, i));
  // What a reference refers to is named by it.
  const { things } = finder.result(fields.map((field) => (field.kind === 'reference' ? 'text' : field.kind)));
  const found = fields.flatMap((field, at): TableRepeat[] => {
    if (!canBeTable(design, field) && field.kind !== 'reference') return [];
    const thing = things.find((repeatedThing) => repeatedThing.key === at);
    const carried = (thing?.columns ?? []).flatMap(({ column }) => {
      const of = fields[column];
      return of !== undefined && cannotGo(design, table, of) === null ? [of.id] : [];
    });
    const names = rows.map((cells) => folded(cells[at] ?? '')).filter((name) => name !== '');
    const values = new Set(names).size;
    const isWorth =
      field.kind === 'text' && cannotGo(design, table, field) === null && values > 1 && names.length >= fewestRecords && values * leastRepeated <= names.length;
    return carried.length > 0 || isWorth ? [{ field: field.id, values, records: names.length, carried }] : [];
  });
  // What goes along with another has a table by that.
  const gone = new Set(found.flatMap((tableRepeat) => tableRepeat.carried));
  return found.filter((tableRepeat) => tableRepeat.carried.length > 0 || !gone.has(tableRepeat.field)).sort((a, b) => b.carried.length - a.carried.length);
}
