/** The queue of jobs in the database: what is put into it in a transaction is done when that is committed, and never when it is not. */
import { Logger, runMigrations } from 'graphile-worker';

export const jobsSchema = 'bibliona_jobs';

/** What is to be told is told by the jobs themselves, and where they are begun. */
export const silent = new Logger(() => () => undefined);

/** Makes the queue, or brings it up to date. */
export const migrateQueue = (url: string): Promise<void> => runMigrations({ connectionString: url, schema: jobsSchema, maxPoolSize: 1, logger: silent });

/**
 * A statement that puts one job for each row of `rows`.
 * @param payload an expression of SQL, of JSON
 * @param key an expression of SQL: what is waiting under the same key is put anew instead
 * @param rows the name of a table expression
 */
export const putJobs = (name: string, attempts: number, payload: string, key: string, rows: string): string =>
  `SELECT ${jobsSchema}.add_job('${name}', ${payload}, max_attempts => ${attempts}, job_key => ${key}) FROM ${rows}`;
