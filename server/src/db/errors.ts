import { QueryFailedError } from 'typeorm';

/** What PostgreSQL tells of an error: codes of "PostgreSQL Error Codes" (Appendix A), and what it is about. */
export interface PgError {
  readonly code?: string;
  readonly constraint?: string;
  readonly column?: string;
  readonly detail?: string;
  /** Where it happened, such as the line of a COPY. */
  readonly where?: string;
}

/** The same, whether the statement ran through TypeORM or not; without a code when the error is not PostgreSQL's. */
export const pgErrorOf = (error: unknown): PgError =>
  error instanceof QueryFailedError ? (error.driverError as PgError) : typeof error === 'object' && error !== null ? error : {};
