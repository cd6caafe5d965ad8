/** What a map shows around a place: the nearest other records, as far as the person sees them. */
import { contract, grantOf, placeAs, pointOf, type OpenApp, type Point } from '@bibliona/core';
import fc from 'fast-check';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { field, makeApp, saveKey, table, testServer, type Caller, type TestServer } from './support.js';

let it: TestServer;
let ada: Caller;
let bede: Caller;
let app: OpenApp;
const sample = fc.sample(fc.tuple(fc.integer({ min: -89_000, max: 89_000 }), fc.integer({ min: -180_000, max: 180_000 })), { numRuns: 230, seed: 7 });
const points = sample.map(([latitude, longitude]): Point => ({ latitude: latitude / 1000, longitude: longitude / 1000 }));

beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Roke');
  const reader = await it.person('Bede Lunn');
  bede = reader;
  const role = { id: 'ro_some', name: 'Some', description: '', everything: false, menu: [], grants: [grantOf('g_s', 'sites', { condition: 'Open = true' })] };
  app = await makeApp(ada, 'Places', [
    table('sites', 'Sites', [field('text', 's_name', 'Name'), field('place', 's_at', 'Place'), field('yes_no', 's_open', 'Open')]),
    { kind: 'put', part: 'role', value: role },
  ]);
  await it.server.people.join(app.id, reader.id, 'member', ['ro_some']);
  const writes = [...points, null].map((point, i) => ({
    kind: 'add',
    table: 'sites',
    as: `s${i}`,
    values: { s_name: `Site ${i}`, s_at: point === null ? null : placeAs(point), s_open: i % 3 === 0 },
  }));
  await ada.call(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes } });
});
afterAll(() => it.close());

const near = async (who: Caller, point: Point | null) =>
  (await who.call(contract.readNearest, { params: { app: app.id, table: 'sites', field: 's_at' }, query: point === null ? {} : { ...point } })).records;
const distance = (from: Point, place: string): number => {
  const to = pointOf(place) as Point;
  const around = Math.min(Math.abs(to.longitude - from.longitude), 360 - Math.abs(to.longitude - from.longitude));
  return Math.hypot(to.latitude - from.latitude, around * Math.cos((from.latitude * Math.PI) / 180));
};

test.each<Point>([
  { latitude: 53.95, longitude: -1.08 },
  { latitude: 0, longitude: 179.99 },
  { latitude: -17.7, longitude: -179.9 },
  { latitude: 80, longitude: 0 },
])('the nearest to %j come first, across the date line too', async (point) => {
  const found = await near(ada, point);
  const all = points.map((each) => distance(point, placeAs(each) ?? '')).sort((a, b) => a - b);
  expect(found).toHaveLength(200);
  for (const [i, each] of found.entries()) expect(distance(point, each.place)).toBeCloseTo(all[i] as number, 6);
  expect(found[0]?.caption).toMatch(/^Site \d+$/u);
});

test('without a point they are the newest, and nobody gets what they do not see', async () => {
  expect((await near(ada, null))[0]?.caption).toBe('Site 229');
  const seen = await near(bede, { latitude: 10, longitude: 10 });
  expect(seen).toHaveLength(77);
  expect(seen.every((each) => Number(each.caption.slice(5)) % 3 === 0)).toBe(true);
});

test('only a field with places can be asked about', async () => {
  const { body } = await ada.refused(contract.readNearest, { params: { app: app.id, table: 'sites', field: 's_name' } });
  expect(body.message).toBe('There is no such field with places.');
});
