import { fieldOfConstraint, type AppDesign, type Field } from '@bibliona/core';
import { QueryFailedError } from 'typeorm';

/** What PostgreSQL tells of an error: codes of "PostgreSQL Error Codes" (Appendix A), and what it is about. */
export interface PgError {
  readonly code?: string;
  readonly constraint?: string;
  readonly table?: string;
  readonly column?: string;
  readonly detail?: string;
  /** Where it happened, such as the line of a COPY. */
  readonly where?: string;
}

/** The same, whether the statement ran through TypeORM or not; without a code when the error is not PostgreSQL's. */
export const pgErrorOf = (error: unknown): PgError =>
  error instanceof QueryFailedError ? (error.driverError as PgError) : typeof error === 'object' && error !== null ? error : {};

/** The field that an error of PostgreSQL is about, when it is about one. */
export function fieldOfError({ constraint, table, column }: PgError, { tables }: AppDesign): Field | undefined {
  const named = constraint === undefined ? undefined : fieldOfConstraint(tables, constraint);
  return named ?? tables.find((each) => each.slug === table)?.fields.find((field) => field.column === column);
}

/** Whether a statement was stopped: by somebody, or because it took too long. */
export const wasStopped = (error: unknown): boolean => pgErrorOf(error).code === '57014';

/** Codes of Node and of PostgreSQL. */
const awayCodes = ['ECONNREFUSED', 'ECONNRESET', 'ETIMEDOUT', 'ENOTFOUND', 'EAI_AGAIN', '57P01', '57P02', '57P03', '53300', '08006', '08001', '08003'];

/** Whether the database could not be reached, or went away: it may be there again soon. */
export function isDatabaseAway(error: unknown): boolean {
  const { code } = pgErrorOf(error);
  if (code !== undefined) return awayCodes.includes(code);
  // What the pool and the driver say without a code.
  return error instanceof Error && /timeout exceeded when trying to connect|Connection terminated|connection timeout/iu.test(error.message);
}
