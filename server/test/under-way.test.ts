/** Changes of a design that take a while: how far they are is told, and they can be stopped. */
import { contract, type DesignChange, type OpenApp } from '@bibliona/core';
import pg from 'pg';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { field, honey, makeApp, testServer, type Caller, type TestServer } from './support.js';

let it: TestServer;
let ada: Caller & { id: number };
let bede: Caller & { id: number };
let app: OpenApp;
beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Roke');
  bede = await it.person('Bede Lunn');
  app = await makeApp(ada, 'Under way', honey);
  await it.server.people.join(app.id, bede.id, 'builder');
});
afterAll(() => it.close());

/** While it works, somebody reads the hives and doesn't end: a change of the table has to wait. */
async function whileRead(work: () => Promise<void>): Promise<void> {
  const reader = new pg.Client({ connectionString: it.url });
  await reader.connect();
  await reader.query(`BEGIN; SELECT FROM "app_${app.id}".hives`);
  try {
    await work();
  } finally {
    await reader.query('ROLLBACK');
    await reader.end();
  }
}
const adding = (id: string): DesignChange => ({ kind: 'add_field', table: 'hives', field: field('text', id, `Field ${id}`) });
const change = (who: Caller, tab: string, added: string) =>
  who.send('POST', `/api/apps/${app.id}/changes`, { version: app.version, changes: [adding(added)] }, { 'x-tab': tab });
const underWay = async (who: Caller, tab: string) => (await who.call(contract.readChangeUnderWay, { params: { app: app.id }, query: { tab } })).underWay;
const stop = (who: Caller, tab: string) => who.call(contract.stopChange, { params: { app: app.id }, body: { tab } });
const columns = async (): Promise<readonly string[]> =>
  (
    await it.sql<{ name: string }>(`SELECT column_name AS name FROM information_schema.columns WHERE table_schema = $1 AND table_name = 'hives'`, [
      `app_${app.id}`,
    ])
  ).map(({ name }) => name);

test('a change that waits is told of, can be stopped by the screen that asked for it alone, and leaves nothing', async () => {
  expect(await underWay(ada, 'tab a')).toBeNull();
  const before = await columns();
  await whileRead(async () => {
    const asked = change(ada, 'tab a', 'h_one');
    await expect.poll(async () => (await underWay(ada, 'tab a'))?.step ?? 0).toBeGreaterThan(0);
    const told = await underWay(ada, 'tab a');
    expect(told?.isMine).toBe(true);
    expect(told?.of).toBeGreaterThanOrEqual(told?.step ?? 0);
    // Another screen of the same person, and another builder, see that there is one, and can't stop it.
    for (const [who, tab] of [
      [ada, 'tab b'],
      [bede, 'tab a'],
    ] as const) {
      await expect.poll(async () => (await underWay(who, tab))?.isMine).toBe(false);
      await stop(who, tab);
    }
    await expect.poll(async () => (await underWay(ada, 'tab a'))?.isMine).toBe(true);
    await stop(ada, 'tab a');
    const answer = await asked;
    expect([answer.status, answer.body]).toMatchObject([422, { code: 'invalid', message: 'The change was stopped. Nothing was changed.' }]);
  });
  expect(await underWay(ada, 'tab a')).toBeNull();
  expect(await columns()).toEqual(before);
  expect((await ada.call(contract.openApp, { params: { app: app.id } })).version).toBe(app.version);
});

test('a change that waits for another one is told of that one, and is made after it', async () => {
  let asked: ReturnType<typeof change>[] = [];
  await whileRead(async () => {
    asked = [change(ada, 'tab a', 'h_two')];
    await expect.poll(async () => (await underWay(ada, 'tab a'))?.step ?? 0).toBeGreaterThan(0);
    asked.push(change(bede, 'tab c', 'h_three'));
    await expect.poll(async () => (await underWay(bede, 'tab c'))?.isMine).toBe(false);
  });
  expect((await Promise.all(asked)).map(({ status }) => status)).toEqual([200, 200]);
  expect(await columns()).toEqual(expect.arrayContaining(['field_h_two', 'field_h_three']));
});

test('stopping when nothing is under way changes nothing', async () => {
  await stop(ada, 'tab a');
  expect((await change(ada, 'tab a', 'h_four')).status).toBe(200);
});

test('who waits for a table that is being changed is told so', async () => {
  const changer = new pg.Client({ connectionString: it.url });
  await changer.connect();
  await changer.query(`BEGIN; LOCK TABLE "app_${app.id}".hives IN ACCESS EXCLUSIVE MODE`);
  const answer = await bede.send('GET', `/api/apps/${app.id}/tables/hives/page`);
  expect([answer.status, answer.body]).toMatchObject([503, { message: expect.stringContaining('being changed by others') as string }]);
  await changer.query('ROLLBACK');
  await changer.end();
});
