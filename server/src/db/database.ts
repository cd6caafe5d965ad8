/** The one connection to PostgreSQL: TypeORM owns it, its transactions and the tables of Bibliona itself. */
import pg from 'pg';
import { DataSource, type EntityManager, type QueryRunner } from 'typeorm';
import { ownClient } from './connections.js';
import { entities } from './entities.js';
import { pgErrorOf, wasStopped } from './errors.js';
import { Foundation0001000000000 } from './migrations/0001-foundation.js';
import { Access0003000000000 } from './migrations/0003-access.js';
import { Automations0004000000000 } from './migrations/0004-automations.js';
import { Expressions0002000000000 } from './migrations/0002-expressions.js';
import { History0005000000000 } from './migrations/0005-history.js';
import { Arithmetic0006000000000 } from './migrations/0006-arithmetic.js';
import { Asked0007000000000 } from './migrations/0007-asked.js';
import { Accounts0008000000000 } from './migrations/0008-accounts.js';
import { ListViews0009000000000 } from './migrations/0009-list-views.js';
import { Views0010000000000 } from './migrations/0010-views.js';
import { AppNames0011000000000 } from './migrations/0011-app-names.js';
import { Regions0012000000000 } from './migrations/0012-regions.js';
import { DesignText0013000000000 } from './migrations/0013-design-text.js';
import { Files0014000000000 } from './migrations/0014-files.js';
import { FieldLibrary0015000000000 } from './migrations/0015-field-library.js';
import { FieldLibrary0016000000000 } from './migrations/0016-field-library.js';
import { Choices0017000000000 } from './migrations/0017-choices.js';
import { OwnLists0018000000000 } from './migrations/0018-own-lists.js';
import { PublicForms0019000000000 } from './migrations/0019-public-forms.js';
import { Comments0020000000000 } from './migrations/0020-comments.js';
import { DesignFiles0021000000000 } from './migrations/0021-design-files.js';
import { Rearranged0022000000000 } from './migrations/0022-rearranged.js';
import { Jobs0023000000000 } from './migrations/0023-jobs.js';
import { TablePlaces0024000000000 } from './migrations/0024-table-places.js';
import { MadeFiles0025000000000 } from './migrations/0025-made-files.js';
import { OwnMenus0026000000000 } from './migrations/0026-own-menus.js';
import { OwnQueries0027000000000 } from './migrations/0027-own-queries.js';
import { migrateQueue } from './job-queue.js';

// int8 as a number: every bigint column is held within ±(2^53 - 1) by a constraint or counts something smaller.
pg.types.setTypeParser(pg.types.builtins.INT8, Number);

export interface DatabaseOptions {
  readonly url: string;
  readonly connections: number;
  /** Longest time one statement can take, in milliseconds; 0 is no limit, for imports and migrations. */
  readonly statementTimeout: number;
}

/** Connects and brings Bibliona's own schema up to date; several processes can do so at once. */
export async function openDatabase(options: DatabaseOptions): Promise<DataSource> {
  await withLock(options.url, async (client) => {
    await client.query('CREATE SCHEMA IF NOT EXISTS bibliona');
    await migrateQueue(options.url);
    const migrating = new DataSource({
      type: 'postgres',
      url: options.url,
      schema: 'bibliona',
      migrations: [
        Foundation0001000000000,
        Expressions0002000000000,
        Access0003000000000,
        Automations0004000000000,
        History0005000000000,
        Arithmetic0006000000000,
        Asked0007000000000,
        Accounts0008000000000,
        ListViews0009000000000,
        Views0010000000000,
        AppNames0011000000000,
        Regions0012000000000,
        DesignText0013000000000,
        Files0014000000000,
        FieldLibrary0015000000000,
        FieldLibrary0016000000000,
        Choices0017000000000,
        OwnLists0018000000000,
        PublicForms0019000000000,
        Comments0020000000000,
        DesignFiles0021000000000,
        Rearranged0022000000000,
        Jobs0023000000000,
        TablePlaces0024000000000,
        MadeFiles0025000000000,
        OwnMenus0026000000000,
        OwnQueries0027000000000,
      ],
      poolSize: 1,
      applicationName: 'bibliona',
    });
    await migrating.initialize();
    try {
      await migrating.runMigrations({ transaction: 'all' });
    } finally {
      await migrating.destroy();
    }
  });
  return connect(options);
}

/** Connects to a database that is up to date. */
export async function connect(options: DatabaseOptions): Promise<DataSource> {
  const source = new DataSource({
    type: 'postgres',
    url: options.url,
    schema: 'bibliona',
    entities,
    poolSize: options.connections,
    applicationName: 'bibliona',
    extra: {
      statement_timeout: options.statementTimeout,
      // What waits for a table that is being changed says so, instead of that it took too long.
      lock_timeout: Math.floor(options.statementTimeout / 2),
      idle_in_transaction_session_timeout: 600_000,
      connectionTimeoutMillis: 10_000,
      maxLifetimeSeconds: 1800,
      onConnect: endsWithServer,
    },
    // A connection that breaks while idle is replaced by the pool; without a listener it would end the process.
    poolErrorHandler: () => undefined,
  });
  await source.initialize();
  return source;
}

/**
 * PostgreSQL asks now and then whether the server is still there while it works for it. It would not notice otherwise that one was
 * killed, and tables that it was changing would stay closed to everyone until the statement is done. Where the system it runs on
 * can't tell, it works to the end.
 */
async function endsWithServer(client: pg.ClientBase): Promise<void> {
  await client.query("SET client_connection_check_interval = '2s'").catch(() => undefined);
}

/** An advisory lock, so that two servers that start together do not migrate at the same time. */
async function withLock(url: string, work: (client: pg.Client) => Promise<void>): Promise<void> {
  const client = ownClient(url);
  await client.connect();
  try {
    await client.query('SELECT pg_advisory_lock(7022026)');
    await work(client);
  } finally {
    await client.end();
  }
}

/** Reads several times from the data as they are at one moment, and writes nothing. */
export async function atOneMoment<T>(source: DataSource, work: (runner: QueryRunner) => Promise<T>): Promise<T> {
  return source.transaction('REPEATABLE READ', async ({ queryRunner }) => {
    if (queryRunner === undefined) throw new Error('A transaction without a query runner');
    return work(queryRunner);
  });
}

/** Runs `work` in one transaction on one connection; it is rolled back when `work` throws. */
export async function inTransaction<T>(source: DataSource, work: (manager: EntityManager, runner: QueryRunner) => Promise<T>): Promise<T> {
  return source.transaction(async (manager) => {
    if (manager.queryRunner === undefined) throw new Error('A transaction without a query runner');
    return work(manager, manager.queryRunner);
  });
}

/** What the work gives, or null when a statement of it took longer than so many milliseconds; its transaction goes on either way. */
export async function orTooLong<T>(runner: QueryRunner, most: number, work: () => Promise<T>): Promise<T | null> {
  await runner.query(`SAVEPOINT in_time; SET LOCAL statement_timeout = ${most}`);
  try {
    const done = await work();
    await runner.query('RELEASE SAVEPOINT in_time');
    return done;
  } catch (error) {
    if (!wasStopped(error)) throw error;
    await runner.query('ROLLBACK TO SAVEPOINT in_time');
    return null;
  }
}

const [lockPatience, lockTries, pauseBetween] = ['2s', 8, 400];
const [closePatience, closeTries, pauseToClose] = ['500ms', 25, 100];

/** In milliseconds: one statement of a change is stopped after it. */
export const longestStep = 600_000;

/** The tables are in use (55P03), or two transactions waited for each other and PostgreSQL ended this one (40P01). */
const areInUse = (error: unknown): boolean => ['55P03', '40P01'].includes(pgErrorOf(error).code ?? '');

/**
 * A transaction that changes tables. It takes each table for itself, and every later statement waits behind it: so it never
 * waits long behind a slow reader itself, but lets the others through and tries again.
 * @throws what PostgreSQL says (55P03, 40P01) when the tables were in use all the time
 */
export async function changingTables<T>(source: DataSource, work: (manager: EntityManager, runner: QueryRunner) => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries += 1) {
    try {
      return await inTransaction(source, async (manager, runner) => {
        // Filling a new column of a long table takes as long as it takes.
        await runner.query(`SET LOCAL lock_timeout = '${lockPatience}'; SET LOCAL statement_timeout = ${longestStep}`);
        return work(manager, runner);
      });
    } catch (error) {
      if (!areInUse(error) || tries === lockTries) throw error;
      await new Promise((resolve) => setTimeout(resolve, pauseBetween));
    }
  }
}

/**
 * Takes tables for a transaction alone before it does anything to them. Were each taken as its statement comes, one could be held
 * for long while others still work with the next, and who works with both would never get to an end. It waits for less than the
 * second after which PostgreSQL ends one of two that wait for each other, so that it is never others who are ended; then it lets go
 * of all, and tries again in the other order.
 * @param names as SQL
 * @returns whether it has them: not when they were in use all the time
 */
export async function closeTables(runner: QueryRunner, names: readonly string[]): Promise<boolean> {
  if (names.length === 0) return true;
  const [patience] = (await runner.query('SHOW lock_timeout')) as readonly { readonly lock_timeout: string }[];
  for (let tries = 1; tries <= closeTries; tries += 1) {
    const ordered = tries % 2 === 1 ? names : [...names].reverse();
    await runner.query(`SAVEPOINT closing; SET LOCAL lock_timeout = '${closePatience}'`);
    try {
      await runner.query(`LOCK TABLE ${ordered.join(', ')}; RELEASE SAVEPOINT closing; SET LOCAL lock_timeout = '${patience?.lock_timeout ?? lockPatience}'`);
      return true;
    } catch (error) {
      if (!areInUse(error)) throw error;
      await runner.query('ROLLBACK TO SAVEPOINT closing');
      await new Promise((resolve) => setTimeout(resolve, pauseToClose));
    }
  }
  return false;
}
