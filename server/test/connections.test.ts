import pg from 'pg';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { forgivingPool, ownClient } from '../src/db/connections.js';
import { emptyDatabase } from './support.js';

let url: string;
let drop: () => Promise<void>;
let other: pg.Client;
beforeAll(async () => {
  ({ url, drop } = await emptyDatabase());
  other = new pg.Client({ connectionString: url });
  await other.connect();
});
afterAll(async () => {
  await other.end();
  await drop();
});

const cut = async (client: pg.ClientBase): Promise<void> => {
  const { rows } = await client.query<{ pid: number }>('SELECT pg_backend_pid() AS pid');
  const ended = new Promise<void>((resolve) => client.once('end', resolve));
  await other.query('SELECT pg_terminate_backend($1)', [rows[0]?.pid]);
  await ended;
};

// An error that nobody listens to, or that is thrown in a callback, would end the process and with it this run.
test('a connection that is cut while nobody asks it anything ends nothing', async () => {
  const client = ownClient(url);
  await client.connect();
  await cut(client);
  await expect(client.query('SELECT 1')).rejects.toThrow(/not queryable|closed/u);
});

test('a library gives a connection back twice, also one that was cut, and gets another one', async () => {
  const pool = forgivingPool(url, 'bibliona test', 1);
  const taken = (): Promise<{ client: pg.PoolClient; giveBack: (reason?: Error) => void }> =>
    new Promise((resolve, reject) => {
      pool.connect((error, client, giveBack) => (client === undefined ? reject(error ?? new Error('No connection')) : resolve({ client, giveBack })));
    });
  const { client, giveBack } = await taken();
  await cut(client);
  giveBack();
  giveBack();
  const next = await taken();
  expect((await next.client.query('SELECT 1 AS one')).rows).toEqual([{ one: 1 }]);
  next.giveBack();
  // Given back late by the one before: it takes nothing from who has it now.
  const now = await taken();
  giveBack();
  expect((await now.client.query('SELECT 2 AS two')).rows).toEqual([{ two: 2 }]);
  now.giveBack();
  await pool.end();
  const late = new Promise((resolve) => pool.connect((error, none) => resolve([error?.message, none])));
  expect(await late).toEqual([expect.stringContaining('after calling end'), undefined]);
});
