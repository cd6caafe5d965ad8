/** What a record must be before it is saved. The same code runs in the form while typing and on the server. */
import { isGiven, type Field, type Table } from '../design/design.js';
import { kindOf } from '../fields/kinds.js';
import type { Value } from '../fields/value.js';

/** What is wrong with one value of one record, for the place where it was entered. */
export interface RecordIssue {
  readonly field: string;
  readonly message: string;
}

const isEmpty = (value: unknown): boolean => value === null || value === undefined || (typeof value === 'string' && value.trim() === '');

export function fieldIssue(field: Field, value: unknown): string | null {
  if (isEmpty(value)) return field.required ? `${field.name} is required` : null;
  const problem = kindOf(field).value.problem(value, field);
  return problem === null ? null : `${field.name} ${problem}`;
}

/**
 * Checks values that are to be written. For a new record every field is asked, else only those that are given.
 * @param values by field id; a reference as the id of its record
 */
export function checkRecord(table: Table, values: Readonly<Record<string, unknown>>, isNew: boolean): readonly RecordIssue[] {
  const issues: RecordIssue[] = [];
  for (const field of table.fields) {
    if (!isNew && !(field.id in values)) continue;
    const message = isGiven(field) && values[field.id] != null ? `${field.name} is given by itself and can't be entered` : fieldIssue(field, values[field.id]);
    if (message !== null) issues.push({ field: field.id, message });
  }
  for (const id of Object.keys(values)) {
    if (!table.fields.some((field) => field.id === id)) issues.push({ field: id, message: `There is no field "${id}" in ${table.name}` });
  }
  return issues;
}

/** The fields of a record that is saved already which are fixed since: no value for them is taken. */
export const fixedIssues = (table: Table, values: Readonly<Record<string, unknown>>): readonly RecordIssue[] =>
  table.fields
    .filter((field) => field.fixed === true && field.id in values)
    .map((field) => ({ field: field.id, message: `${field.name} can't be changed once the record is saved` }));

/** The form in which a value is stored: blank text is empty, a decimal has no needless zeros. */
export function stored(field: Field, value: Value): Value {
  return isEmpty(value) ? null : kindOf(field).value.normal(value, field);
}
