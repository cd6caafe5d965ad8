import type { AppDesign } from '@bibliona/core';
import { fieldOfError, pgErrorOf } from '../db/errors.js';
import { Refusal } from '../http/refusal.js';

/** What PostgreSQL refused, in words, at the field of the write where it was entered; any other error as it is. */
export function explained(error: unknown, design: AppDesign, write: number): unknown {
  const said = pgErrorOf(error);
  const { code, detail } = said;
  const field = fieldOfError(said, design);
  const issue = (message: string): Refusal => new Refusal('invalid', message, [{ write, ...(field === undefined ? {} : { field: field.id }), message }]);
  const name = field?.name ?? 'A value';
  switch (code) {
    case '23505':
      return issue(`${name} must be unique, and another record has ${/=\((.*)\)/u.exec(detail ?? '')?.[1] ?? 'this value'} already`);
    case '23503':
      return issue(`${name} refers to a record that doesn't exist or that you don't have access to`);
    case '23502':
      return issue(`${name} is required`);
    case '23514':
      return issue(`${name} does not fit`);
    case '22003':
      return issue(`${name} is too large`);
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
