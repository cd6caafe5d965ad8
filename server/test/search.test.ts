import { contract, grantOf, type DesignChange, type OpenApp } from '@bibliona/core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { field, makeApp, saveKey, table, testServer, type Caller, type TestServer } from './support.js';

/** Finding records of an app with many tables and a very long one. */
const many = 300_000;
let it: TestServer;
let ada: Caller;
let app: OpenApp;
beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Roke');
  const tables = Array.from({ length: 40 }, (_, n): DesignChange =>
    table(`t${n}_x`, `Table ${n}`, [field('text', `f${n}_name`, 'Name'), field('long_text', `f${n}_note`, 'Note')]),
  );
  app = await makeApp(ada, 'Searched', [
    ...tables,
    {
      kind: 'put',
      part: 'role',
      value: {
        id: 'some',
        name: 'Some',
        description: '',
        everything: false,
        menu: [],
        grants: [grantOf('g_some', 't0_x', { condition: 'Name != "Rare heron 7"' })],
      },
    },
  ]);
  await it.sql(`INSERT INTO "app_${app.id}".table_0 (name, note) SELECT 'Hive ' || n, 'weather and bees ' || n FROM generate_series(1, ${many}) AS n`);
  await it.sql(`INSERT INTO "app_${app.id}".table_0 (name) SELECT 'Rare heron ' || n FROM generate_series(1, 8) AS n`);
  await it.sql(`ANALYZE "app_${app.id}".table_0`);
  await ada.call(contract.saveRecords, {
    params: { app: app.id },
    body: { key: saveKey(), writes: [{ kind: 'add', table: 't39_x', as: 'a', values: { f39_name: 'Heron Mere' } }] },
  });
});
afterAll(() => it.close());

async function search(who: Caller, text: string): Promise<{ found: readonly { table: string; caption: string }[]; times: readonly number[] }> {
  const found: { table: string; caption: string }[] = [];
  const times: number[] = [];
  for (let from: number | null = 0; from !== null;) {
    const began = performance.now();
    const answer: { found: { table: string; caption: string }[]; next: number | null } = await who.call(contract.searchRecords, {
      params: { app: app.id },
      query: { text, from },
    });
    times.push(performance.now() - began);
    found.push(...answer.found);
    from = answer.next;
  }
  return { found, times };
}

test('comes table by table, each answer soon, from the long table and the last one', async () => {
  const { found, times } = await search(ada, 'heron');
  expect(found.filter((each) => each.table === 't0_x')).toHaveLength(5);
  expect(found.some((each) => each.caption === 'Heron Mere')).toBe(true);
  expect(Math.max(...times)).toBeLessThan(1000);
});

test('is bounded for words that are in every record, and for short ones', async () => {
  for (const text of ['weather', 'h', 'weather bees', 'zz']) {
    const { times } = await search(ada, text);
    expect([text, Math.max(...times) < 1500]).toEqual([text, true]);
  }
});

test("finds nothing that the person can't see", async () => {
  const member = await it.person('Bede Lunn');
  await it.server.people.join(app.id, member.id, 'member', ['some']);
  const { found } = await search(member, 'Rare heron 7');
  expect(found).toEqual([]);
  expect((await search(member, 'Rare heron 8')).found.map((each) => each.caption)).toEqual(['Rare heron 8']);
});
