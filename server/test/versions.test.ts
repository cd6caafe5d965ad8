/** Earlier versions of an app: what restoring one would do, and that it does just that. */
import { contract, type DesignChange, type OpenApp } from '@bibliona/core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { field, honey, makeApp, saveKey, testServer, type Caller, type TestServer } from './support.js';

let it: TestServer;
let ada: Caller & { id: number };
beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Roke');
});
afterAll(() => it.close());

const change = (app: OpenApp, ...changes: readonly DesignChange[]): Promise<OpenApp> =>
  ada.call(contract.changeDesign, { params: { app: app.id }, body: { version: app.version, changes: [...changes], acceptLoss: true } });
const preview = (app: OpenApp, to: number) =>
  ada.call(contract.previewRestore, { params: { app: app.id }, body: { version: app.version, to: { kind: 'version', version: to } } });
const restore = (app: OpenApp, to: number, acceptLoss = false): Promise<OpenApp> =>
  ada.call(contract.restoreDesign, { params: { app: app.id }, body: { version: app.version, to: { kind: 'version', version: to }, acceptLoss } });
const notes = async (app: OpenApp): Promise<unknown> => it.sql(`SELECT notes FROM "app_${app.id}".hives ORDER BY id`);

test('a version of long ago comes back with its data, and undo and redo go over it', async () => {
  const first = await makeApp(ada, 'Long ago', honey);
  await ada.call(contract.saveRecords, {
    params: { app: first.id },
    body: { key: saveKey(), writes: [{ kind: 'add', table: 'hives', as: 'h', values: { h_code: 'H-1', h_notes: 'calm' } }] },
  });
  const second = await change(first, { kind: 'remove_field', table: 'hives', field: 'h_notes' });
  const third = await change(
    second,
    { kind: 'change_table', table: 'hives', name: 'Colonies' },
    { kind: 'add_field', table: 'hives', field: field('text', 'h_mark', 'Mark') },
  );
  const { differences, steps } = await preview(third, first.version);
  expect(differences.map(({ kind, what, name, was }) => `${kind} ${what} ${name} ${was ?? ''}`.trim())).toEqual([
    'renamed table Hives Colonies',
    'renamed form Hives Colonies',
    'renamed list Hives Colonies',
    'added field Notes',
    'removed field Mark',
  ]);
  expect(steps.every((step) => !step.blocks)).toBe(true);
  const restored = await restore(third, first.version);
  expect(restored.version).toBe(third.version + 1);
  expect(restored.design).toEqual(first.design);
  expect(await notes(restored)).toEqual([{ notes: 'calm' }]);
  const { entries } = await ada.call(contract.designLog, { params: { app: first.id } });
  expect(entries[0]?.description).toMatch(/^Restored version 2: Added the table Apiaries/u);
  const undone = await ada.call(contract.undoDesign, { params: { app: first.id }, body: { version: restored.version, direction: 'undo', acceptLoss: true } });
  expect(undone.design).toEqual(third.design);
  const redone = await ada.call(contract.undoDesign, { params: { app: first.id }, body: { version: undone.version, direction: 'redo' } });
  expect(redone.design).toEqual(first.design);
  expect(await notes(redone)).toEqual([{ notes: 'calm' }]);
});

test('any two versions are compared, and earlier ones are asked for in turn', async () => {
  const first = await makeApp(ada, 'Compared', honey);
  const second = await change(first, { kind: 'rename_app', name: 'Compared with' });
  const third = await change(second, { kind: 'add_field', table: 'hives', field: field('text', 'h_mark', 'Mark') });
  const compare = (from: number, to: number) => ada.call(contract.compareVersions, { params: { app: first.id }, query: { from, to } });
  // A new field is in the form and in the list too.
  const screens = ['form', 'list'].map((what) => ({ kind: 'changed', what, name: 'Hives', was: null, table: null }));
  expect((await compare(first.version, third.version)).differences).toMatchObject([
    ...screens,
    { kind: 'added', what: 'field', part: 'field', id: 'h_mark', name: 'Mark', was: null, table: 'Hives' },
    { kind: 'changed', what: 'app', name: 'Compared with', was: null, table: null },
  ]);
  expect((await compare(second.version, third.version)).differences).toHaveLength(3);
  expect((await compare(third.version, third.version)).differences).toEqual([]);
  expect((await ada.refused(contract.compareVersions, { params: { app: first.id }, query: { from: 1, to: 99 } })).status).toBe(404);
  const log = await ada.call(contract.designLog, { params: { app: first.id }, query: { before: third.version } });
  expect([log.entries[0]?.version, log.more]).toEqual([second.version, false]);
});

test('what would be lost is told first, and nothing is restored without consent or over a newer version', async () => {
  const empty = await makeApp(ada, 'Losing', []);
  const full = await change(empty, ...honey);
  await ada.call(contract.saveRecords, {
    params: { app: full.id },
    body: { key: saveKey(), writes: [{ kind: 'add', table: 'hives', as: 'h', values: { h_code: 'H-1' } }] },
  });
  expect((await preview(full, 1)).steps.some((step) => step.effect === 'loses' && step.found !== null)).toBe(true);
  const asked = { params: { app: full.id }, body: { version: full.version, to: { kind: 'version', version: 1 } } };
  expect((await ada.refused(contract.restoreDesign, asked)).body.code).toBe('needs_consent');
  const later = await change(full, { kind: 'rename_app', name: 'Later' });
  expect((await ada.refused(contract.restoreDesign, { params: asked.params, body: { ...asked.body, acceptLoss: true } })).body.code).toBe('stale_design');
  expect(
    (await ada.refused(contract.restoreDesign, { params: asked.params, body: { version: later.version, to: { kind: 'version', version: 99 } } })).status,
  ).toBe(404);
  expect((await restore(later, 1, true)).design.tables).toEqual([]);
});

test('the design of a file is taken over by an app that has none, and by the one that it comes from', async () => {
  const first = await makeApp(ada, 'First', honey);
  const file = JSON.parse(JSON.stringify(first.design)) as unknown;
  const other = await makeApp(ada, 'Other', []);
  const take = (app: OpenApp, design: unknown) => ({
    params: { app: app.id },
    body: { version: app.version, to: { kind: 'file' as const, design, name: 'first.json' } },
  });
  expect(await ada.call(contract.previewRestore, take(first, file))).toEqual({ differences: [], steps: [] });
  const taken = await ada.call(contract.restoreDesign, take(other, file));
  expect(taken.design).toEqual({ ...first.design, name: 'Other' });
  await ada.call(contract.saveRecords, {
    params: { app: other.id },
    body: { key: saveKey(), writes: [{ kind: 'add', table: 'hives', as: 'h', values: { h_code: 'H-1', h_stores: 'low' } }] },
  });
  expect((await ada.call(contract.designLog, { params: { app: other.id } })).entries[0]?.description).toBe('Took the design of first.json');
  const wrong = await ada.refused(contract.restoreDesign, take(taken, { ...(file as object), tables: [{ name: 'x' }] }));
  expect([wrong.status, wrong.body.message]).toEqual([422, expect.stringContaining('tables.0.')]);
  // Made by hand so that a table is called like one of the product's own in the database.
  const forged = JSON.parse(JSON.stringify(first.design).replaceAll('"slug":"hives"', '"slug":"pg_catalog"')) as unknown;
  const third = await makeApp(ada, 'Third', []);
  await ada.call(contract.restoreDesign, take(third, forged));
  expect(await it.sql(`SELECT tablename FROM pg_tables WHERE schemaname = $1 AND tablename NOT LIKE '\\_%' ORDER BY 1`, [`app_${third.id}`])).toEqual([
    { tablename: 'apiaries' },
    { tablename: 'hives' },
  ]);
});
