import { contract, type OpenApp } from '@bibliona/core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { honey, makeApp, testServer, type Caller, type TestServer } from './support.js';

let it: TestServer;
let ada: Caller;
let app: OpenApp;
beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Roke');
  app = await makeApp(ada, 'Placed', honey);
});
afterAll(() => it.close());

const at = () => ({ app: app.id });
const places = async () => (await ada.call(contract.readPlacement, { params: at() })).places;
const place = (body: object) => ({ params: at(), body: { places: body } });

test('tables stay where they were put, each for itself, and no new version of the design is made', async () => {
  expect(await places()).toEqual({});
  await ada.call(contract.placeTables, place({ hives: { x: 10, y: -20 }, apiaries: { x: 0, y: 0 } }));
  await ada.call(contract.placeTables, place({ hives: { x: 30, y: 40 } }));
  expect(await places()).toEqual({ hives: { x: 30, y: 40 }, apiaries: { x: 0, y: 0 } });
  await ada.call(contract.placeTables, place({ apiaries: null }));
  await ada.call(contract.placeTables, place({}));
  expect(await places()).toEqual({ hives: { x: 30, y: 40 } });
  expect((await ada.call(contract.openApp, { params: at() })).version).toBe(app.version);
});

test.each([
  ['a table that is not there', { nothing: { x: 0, y: 0 } }, 404],
  ['a place far away', { hives: { x: 100_001, y: 0 } }, 400],
  ['half a pixel', { hives: { x: 0.5, y: 0 } }, 400],
  ['no place at all', { hives: { x: 1 } }, 400],
  ['a name that is no id', { 'hives"; --': { x: 0, y: 0 } }, 400],
  ['more tables than there can be', Object.fromEntries(Array.from({ length: 1001 }, (_, i) => [`t_${i}`, null])), 400],
])('%s is refused, and nothing is moved', async (_, body, status) => {
  const before = await places();
  expect((await ada.refused(contract.placeTables, place(body))).status).toBe(status);
  expect(await places()).toEqual(before);
});

test('a table that is removed and brought back is where it was', async () => {
  await ada.call(contract.placeTables, place({ hives: { x: 5, y: 6 } }));
  const { version } = await ada.call(contract.changeDesign, {
    params: at(),
    body: { version: app.version, changes: [{ kind: 'remove', part: 'table', id: 'hives' }], acceptLoss: true },
  });
  // Meanwhile nobody can put it anywhere.
  expect((await ada.refused(contract.placeTables, place({ hives: { x: 1, y: 1 } }))).status).toBe(404);
  await ada.call(contract.undoDesign, { params: at(), body: { version, direction: 'undo', acceptLoss: true } });
  expect((await places())['hives']).toEqual({ x: 5, y: 6 });
});

test('the place of a table that was removed can be taken from it', async () => {
  await ada.call(contract.placeTables, place({ hives: { x: 5, y: 6 } }));
  const { version } = await ada.call(contract.openApp, { params: at() });
  await ada.call(contract.changeDesign, { params: at(), body: { version, changes: [{ kind: 'remove', part: 'table', id: 'hives' }], acceptLoss: true } });
  await ada.call(contract.placeTables, place({ hives: null }));
  expect(await places()).toEqual({});
});

test('notes stay where they were put as well', async () => {
  const { version } = await ada.call(contract.openApp, { params: at() });
  const note = { id: 'n_shed', text: 'The shed is locked at night.', tone: 'gold' } as const;
  expect((await ada.refused(contract.placeTables, place({ n_shed: { x: 7, y: 8 } }))).status).toBe(404);
  await ada.call(contract.changeDesign, { params: at(), body: { version, changes: [{ kind: 'put', part: 'note', value: note }], acceptLoss: false } });
  await ada.call(contract.placeTables, place({ n_shed: { x: 7, y: 8 } }));
  expect(await places()).toEqual({ n_shed: { x: 7, y: 8 } });
});
