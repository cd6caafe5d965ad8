/** What the kinds of rearrangement have in common: applying changes, replacing ids, and the SQL of values. */
import type { AppDesign, Field, StoredField, Table, FieldId } from '../design/design.js';
import { isStored } from '../design/design.js';
import { fieldOf } from '../design/read.js';
import { membersOf } from '../expression/names.js';
import { columnKind } from '../migration/columns.js';
import type { MigrationStep, Probe } from '../migration/migration.js';
import { applyChanges } from '../parts/change.js';
import type { DesignChange } from '../parts/design-change.js';
import { designMessage, type DesignIssue } from '../parts/issues.js';
import { ident } from '../sql/sql.js';
import { Impossible } from './rearrangement.js';

/** @throws Impossible with what is wrong */
export function withChanges(design: AppDesign, changes: readonly DesignChange[]): AppDesign {
  const result = applyChanges(design, changes);
  if (result.ok) return result.design;
  throw new Impossible(toldIssues(result.issues));
}

/** So much of what is in the way is told. */
const mostTold = 5;

/** The first of what is wrong, in words. */
export const toldIssues = (issues: readonly DesignIssue[]): string =>
  [...issues.slice(0, mostTold).map(designMessage), ...(issues.length > mostTold ? [`And ${issues.length - mostTold} more.`] : [])].join(' ');

/** Several things in a row, the first of them by name. */
export function listed(names: readonly string[]): string {
  const told = names.slice(0, mostTold);
  return names.length > mostTold ? `${told.join(', ')} and ${names.length - mostTold} more` : told.join(', ');
}

/** The same value with ids replaced wherever it has them; what has none stays the same object. */
export function swapped<T>(value: T, ids: ReadonlyMap<string, string>): T {
  if (typeof value === 'string') return (ids.get(value) ?? value) as T;
  if (typeof value !== 'object' || value === null) return value;
  if (Array.isArray(value)) {
    const all: unknown[] = value.map((each: unknown) => swapped(each, ids));
    return all.every((each, i) => each === value[i]) ? value : (all as T);
  }
  const before = Object.entries(value);
  const after = before.map(([name, each]) => [ids.get(name) ?? name, swapped<unknown>(each, ids)] as const);
  return after.every(([name, each], i) => name === before[i]?.[0] && each === before[i][1]) ? value : (Object.fromEntries(after) as T);
}

/** The table with the reference in the place of the field, called and shown as it was. */
export function withReference(table: Table, field: Field, reference: string, ids: ReadonlyMap<string, string>): Table {
  const { name, description, required, unique, listWidth, fixed, startsWithLast } = field;
  const taken = Object.entries({ name, description, required, unique, listWidth, fixed, startsWithLast }).filter(([, value]) => value !== undefined);
  const takes = { ...fieldOf(table, reference), ...Object.fromEntries(taken) } as Field;
  return {
    ...table,
    fields: table.fields.flatMap((each) => (each.id === field.id ? [takes] : each.id === reference ? [] : [each])),
    uniqueTogether: swapped(table.uniqueTogether, ids),
    // Pickers show texts beside what a record is called; a reference is none.
    ...(table.shownWith === undefined ? {} : { shownWith: table.shownWith.filter((each) => each !== field.id) }),
  };
}

/** What is called by a name over records of a table. */
export const namesOn = (design: AppDesign, table: Table): readonly string[] => [
  ...table.fields.map((field) => field.name),
  ...design.relationships.filter((each) => each.parent === table.id).map((each) => each.childrenName),
];

/** A label as expressions write it. */
export const labelInExpressions = (label: string): string => JSON.stringify(label);

/** What a field of a table is called in expressions. */
export const nameInExpressions = (design: AppDesign, table: string, field: FieldId): string =>
  membersOf(design, table).find((member) => member.kind === 'field' && member.field.id === field)?.name ?? '';

/** @throws Impossible when it is not in the database */
export function storedFieldOf(table: Table, id: FieldId): StoredField {
  const field = fieldOf(table, id);
  if (!isStored(field)) throw new Impossible(`${field.name} is calculated and holds no values.`);
  return field;
}

/** A step of values going over, with what is told of it before. */
export const valueStep = (description: string, sql: readonly string[], probe: Probe | null = null): MigrationStep => ({
  effect: probe?.meaning === 'loses' ? 'loses' : 'free',
  description,
  sql,
  probe,
  isIndex: false,
});

/** What is told whatever the records are. */
export const toldStep = (sentence: string): MigrationStep =>
  valueStep(sentence, [], {
    text: `SELECT 1 AS count, '{}'::text[] AS samples, '{}'::float8[] AS ids`,
    meaning: 'fills',
    sentence: () => sentence,
  });

/** SQL: the text of a field's values, its column being that of the row called `of`. */
export const textIn = (of: string, field: StoredField): string => columnKind(field).asText(columnIn(of, field), field);
export const columnIn = (of: string, field: Pick<StoredField, 'column'>): string => `${of}.${ident(field.column)}`;

/** SQL: the same for texts that differ only in capitals and blanks. */
export const foldedSql = (text: string): string => `lower(regexp_replace(btrim(${text}), '\\s+', ' ', 'g'))`;
