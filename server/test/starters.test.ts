/** Designs to start from: each is opened, worked in and removed again. */
import { contract, type AppDesign } from '@bibliona/core';
import { starters } from '@bibliona/demo/starters';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { field, makeApp, saveKey, table, testServer, type Caller, type TestServer } from './support.js';

let it: TestServer;
let ada: Caller & { id: number };
beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Roke');
});
afterAll(() => it.close());

const begin = async (starter: string) => {
  const app = await makeApp(ada, 'Begun', []);
  return ada.call(contract.useStarter, { params: { app: app.id }, body: { version: app.version, starter } });
};

describe.each(Object.keys(starters))('%s', (name) => {
  test('has records in every table, and every list and query of it opens with some', async () => {
    const app = await begin(name);
    const design = app.design as AppDesign;
    const { counts } = await ada.call(contract.countRecords, { params: { app: app.id } });
    for (const each of design.tables) expect([each.name, (counts[each.id] ?? 0) > 0]).toEqual([each.name, true]);
    for (const list of design.lists) {
      const page = await ada.call(contract.readPage, { params: { app: app.id, table: list.table }, query: { limit: 50, list: list.id } });
      expect([list.name, page.records.length > 0]).toEqual([list.name, true]);
    }
    for (const query of design.queries) {
      const result = await ada.call(contract.readQuery, { params: { app: app.id, query: query.id } });
      expect([query.name, result.rows.length > 0]).toEqual([query.name, true]);
      // Every column says something in at least one row.
      for (const [at, column] of result.columns.entries())
        expect([column.name, result.rows.some((row) => row.cells[at] !== null)]).toEqual([column.name, true]);
    }
  });

  test('has captions and formulas that say something of each record', async () => {
    const app = await begin(name);
    for (const item of app.design.tables) {
      const page = await ada.call(contract.readPage, { params: { app: app.id, table: item.id }, query: { limit: 50 } });
      for (const formula of item.fields.filter((each) => each.kind === 'formula'))
        expect([formula.name, page.records.some((record) => record.values[formula.id] != null)]).toEqual([formula.name, true]);
      for (const record of page.records) {
        const opened = await ada.call(contract.readRecord, { params: { app: app.id, table: item.id, id: record.id } });
        expect(opened.caption).not.toMatch(/^$|null/u);
      }
    }
  });

  test('is undone as a whole, and the app is as empty as it was', async () => {
    const app = await begin(name);
    const undone = await ada.call(contract.undoDesign, { params: { app: app.id }, body: { version: app.version, direction: 'undo', acceptLoss: true } });
    expect(undone.design.tables).toEqual([]);
    expect(await it.sql(`SELECT count(*)::int AS n FROM pg_tables WHERE schemaname = $1 AND tablename NOT LIKE '\\_%'`, [`app_${app.id}`])).toEqual([{ n: 0 }]);
  });
});

test('only an empty app starts with a design, and only with one that there is', async () => {
  const { starters: told } = await ada.call(contract.listStarters, {});
  expect(told.map((each) => each.id)).toEqual(Object.keys(starters));
  const app = await makeApp(ada, 'Full', [table('hives', 'Hives', [field('text', 'h_code', 'Code')])]);
  await ada.call(contract.saveRecords, {
    params: { app: app.id },
    body: { key: saveKey(), writes: [{ kind: 'add', table: 'hives', as: 'h', values: { h_code: 'H-1' } }] },
  });
  const full = await ada.refused(contract.useStarter, { params: { app: app.id }, body: { version: app.version, starter: 'school_garden' } });
  expect([full.status, full.body.message]).toEqual([422, 'This app has tables already. Make a new app to start with a design.']);
  const empty = await makeApp(ada, 'Empty', []);
  for (const starter of ['nothing', 'constructor'])
    expect((await ada.refused(contract.useStarter, { params: { app: empty.id }, body: { version: 1, starter } })).status).toBe(404);
});
