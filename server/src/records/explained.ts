import { isOfItself, sightOf, togetherOfConstraint, type AppDesign, type Field, type Person } from '@bibliona/core';
import { fieldOfError, pgErrorOf } from '../db/errors.js';
import { Refusal } from '../http/refusal.js';

// An index takes 2,704 bytes.
const longestIndexed = '2,600';

/** What PostgreSQL refused, in words, at the field of the write where it was entered; any other error as it is. */
export function explained(error: unknown, design: AppDesign, person: Person, write: number): unknown {
  const said = pgErrorOf(error);
  const { code, detail } = said;
  const field = fieldOfError(said, design);
  const issue = (message: string): Refusal => new Refusal('invalid', message, [{ write, ...(field === undefined ? {} : { field: field.id }), message }]);
  const name = field?.name ?? 'A value';
  switch (code) {
    case '23505': {
      const together = said.constraint === undefined ? [] : togetherOfConstraint(design.tables, said.constraint);
      if (together.length > 0) return issue(`Another record has the same ${namesFor(design, person, together)} already`);
      if (field?.kind === 'reference') return issue(`Another record has this ${name} already`);
      return issue(`${name} must be unique, and another record has ${/=\((.*)\)/u.exec(detail ?? '')?.[1] ?? 'this value'} already`);
    }
    case '23503':
      return issue(`${name} refers to a record that doesn't exist or that you don't have access to`);
    case '23502':
      return issue(`${name} is required`);
    case '23514':
      if (said.constraint !== undefined && isOfItself(said.constraint)) return issue(`${name} can't be the record itself`);
      return issue(`${name} does not fit`);
    case '22003':
      return issue(`${name} is too large`);
    // An entry of an index is too large.
    case '54000':
      return issue(`${name} is too long: a text that is unique, indexed or sorted by has up to about ${longestIndexed} letters`);
    case '42703':
    case '42P01':
      return new Refusal('stale_design', 'The design of the app has just changed. Nothing was saved; save again.');
    case '40P01':
    case '40001':
      return new Refusal('unavailable', 'Someone else was saving the same records. Nothing was saved; save again.');
    default:
      return error;
  }
}

/** "Hive and Date", without the names of fields that the person doesn't see. */
function namesFor(design: AppDesign, person: Person, fields: readonly Field[]): string {
  const table = design.tables.find((each) => fields.every((field) => each.fields.includes(field)))?.id ?? '';
  const sight = sightOf(design, person, table, 'see');
  const shown = fields.filter((field) => sight.kind === 'all' || sight.grants.some((grant) => !grant.withheld.has(field.id)));
  return shown.length === fields.length ? shown.map((field) => field.name).join(' and ') : [...shown.map((field) => field.name), 'other values'].join(' and ');
}
