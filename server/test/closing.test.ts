/** A change takes the tables that it needs together: people who work with several of them all the time neither stop it nor are stopped by it. */
import { contract, type OpenApp } from '@bibliona/core';
import pg from 'pg';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { rearranging } from './rearranging.js';
import { honey, makeApp, testServer, type Caller, type TestServer } from './support.js';

let it: TestServer;
let ada: Caller & { id: number };
beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Roke');
});
afterAll(() => it.close());
const { rearrange, rows, step } = rearranging(
  () => it,
  () => ada,
);

/** Works with the tables in that order, without a break, until it is stopped. @returns what stops it, and gives the errors that it met */
function workingWith(app: OpenApp, tables: readonly string[]): () => Promise<readonly unknown[]> {
  let isOver = false;
  const errors: unknown[] = [];
  const worker = (async () => {
    const client = new pg.Client({ connectionString: it.url });
    await client.connect();
    while (!isOver) {
      try {
        await client.query('BEGIN');
        for (const table of tables) {
          await client.query(`UPDATE "app_${app.id}".${table} SET updated_at = now() WHERE id = 1`);
          await client.query('SELECT pg_sleep(0.15)');
        }
        await client.query('COMMIT');
      } catch (error) {
        errors.push(error);
        await client.query('ROLLBACK');
      }
    }
    await client.end();
  })();
  return async () => {
    isOver = true;
    await worker;
    return errors;
  };
}

test.concurrent.each([
  ['children first', ['hives', 'apiaries']],
  ['parents first', ['apiaries', 'hives']],
])('fields move between tables with which somebody works, %s', async (order, tables) => {
  const app = await makeApp(ada, `Busy, ${order}`, honey);
  await rows(app, `INSERT INTO ~.apiaries (name) VALUES ('Heron Mere')`);
  await rows(app, `INSERT INTO ~.hives (code, apiary, notes) VALUES ('H-1', 1, 'in the shade')`);
  const stop = workingWith(app, tables);
  const moved = await rearrange(app, { kind: 'move_fields', relationship: 'r_hives', carried: [{ field: 'h_notes', to: 'a_notes' }] });
  expect(await rows(app, 'SELECT notes FROM ~.apiaries')).toEqual([{ notes: 'in the shade' }]);
  const back = await step(moved, 'undo');
  expect(await rows(app, 'SELECT notes FROM ~.hives')).toEqual([{ notes: 'in the shade' }]);
  // Both tables are needed to end what is between them.
  await ada.call(contract.changeDesign, {
    params: { app: app.id },
    body: { version: back.version, changes: [{ kind: 'remove_field', table: 'hives', field: 'h_apiary' }], acceptLoss: true },
  });
  expect(await stop()).toEqual([]);
});

test.concurrent('a change that can never have its tables says so, and nothing was changed', async () => {
  const app = await makeApp(ada, 'In use', honey);
  const client = new pg.Client({ connectionString: it.url });
  await client.connect();
  await client.query(`BEGIN; LOCK TABLE "app_${app.id}".hives IN ACCESS SHARE MODE`);
  try {
    const changes = [{ kind: 'remove_field' as const, table: 'hives', field: 'h_notes' }];
    const { body } = await ada.refused(contract.changeDesign, { params: { app: app.id }, body: { version: app.version, changes, acceptLoss: true } });
    expect(body.message).toBe('Others are working with these tables at the moment. Nothing was changed. Try again in a moment.');
    expect((await ada.call(contract.openApp, { params: { app: app.id } })).version).toBe(app.version);
    // Others can go on reading meanwhile.
    expect(await rows(app, 'SELECT notes FROM ~.hives')).toEqual([]);
  } finally {
    await client.query('COMMIT');
    await client.end();
  }
});
