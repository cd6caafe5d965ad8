/** The queue of jobs in the database: what is put into it in a transaction is done when that is committed, and never when it is not. */
import { Logger, runMigrations } from 'graphile-worker';
import type pg from 'pg';

export const jobsSchema = 'bibliona_jobs';

/** What is to be told is told by the jobs themselves, and where they are begun. */
export const silent = new Logger(() => () => undefined);

/** Makes the queue, or brings it up to date. */
export const migrateQueue = (url: string): Promise<void> => runMigrations({ connectionString: url, schema: jobsSchema, maxPoolSize: 1, logger: silent });

/**
 * A statement that puts one job for each row of `rows`.
 * @param payload an expression of SQL, of JSON
 * @param key an expression of SQL: what is waiting under the same key is put anew instead
 * @param rows a table expression
 */
export const putJobs = (name: string, attempts: number, payload: string, key: string, rows: string): string =>
  // The flag is what a process goes by that is at work on enough jobs of this kind.
  `SELECT ${jobsSchema}.add_job('${name}', ${payload}, max_attempts => ${attempts}, job_key => ${key}, flags => ARRAY['${name}']) FROM ${rows}`;

/** The first of the two numbers of each advisory lock that shows that a worker is there. */
const presence = 7_022_027;

const present = `SELECT pg_try_advisory_lock(${presence}, hashtext(worker)) FROM unnest($1::text[]) AS worker`;
// PostgreSQL lists the second number of a lock without its sign.
const freeOfTheGone = `
  SELECT ${jobsSchema}.force_unlock_workers(array_agg(DISTINCT locked_by)) FROM ${jobsSchema}.jobs
  WHERE locked_by IS NOT NULL AND NOT EXISTS (
    SELECT FROM pg_locks AS held JOIN pg_database AS here ON here.oid = held.database AND here.datname = current_database()
    WHERE held.locktype = 'advisory' AND held.classid = ${presence} AND held.objsubid = 2
      AND held.objid::bigint = (hashtext(locked_by)::bigint + 4294967296) % 4294967296
  )
  HAVING count(*) > 0`;

/** Shows all processes that workers are there, by their names, until the connection ends. */
export async function showWorkers(connection: pg.PoolClient, workers: readonly string[]): Promise<void> {
  await connection.query(present, [workers]);
}

/** Lets others have the jobs of workers that are gone. */
export async function freeJobsOfTheGone(pool: pg.Pool): Promise<void> {
  await pool.query(freeOfTheGone);
}
