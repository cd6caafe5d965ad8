import { contract, grantOf, type DesignChange, type OpenApp, type Route } from '@bibliona/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { field, makeApp, saveKey, table, testServer, type Caller, type TestServer } from '../support.js';

/** Numbers that were wrong, and values that were lost: conversions, routes over records that were there before, what waits. */
let it: TestServer;
let ada: Caller & { readonly id: number };
beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Roke');
});
afterAll(() => it.close());

const change = (app: OpenApp, changes: readonly DesignChange[], acceptLoss = true): Promise<OpenApp> =>
  ada.call(contract.changeDesign, { params: { app: app.id }, body: { version: app.version, changes, acceptLoss } });
const undo = (app: OpenApp): Promise<OpenApp> =>
  ada.call(contract.undoDesign, { params: { app: app.id }, body: { version: app.version, direction: 'undo', acceptLoss: true } });
const add = (app: OpenApp, tableId: string, rows: readonly object[]) =>
  ada.call(contract.saveRecords, {
    params: { app: app.id },
    body: { key: saveKey(), writes: rows.map((values, i) => ({ kind: 'add', table: tableId, as: `r${i}`, values })) },
  });

describe('a text that becomes another kind', () => {
  const texts = ['00501', ' 5 ', '+5', '1.50', '7', 'none', 'x', '12', '-0'];
  const begin = async (): Promise<OpenApp> => {
    const app = await makeApp(ada, 'Kinds', [table('parts', 'Parts', [field('text', 'p_code', 'Code')])]);
    await add(
      app,
      'parts',
      texts.map((p_code) => ({ p_code })),
    );
    return app;
  };
  const values = async (app: OpenApp): Promise<unknown[]> =>
    (await it.sql<{ code: unknown }>(`SELECT code::text AS code FROM "app_${app.id}".parts ORDER BY id`)).map((row) => row.code);
  const become = (kind: string, more: object = {}): DesignChange => ({
    kind: 'change_field',
    table: 'parts',
    field: field(kind, 'p_code', 'Code', more),
  });

  test.each([
    ['whole', {}],
    ['decimal', { digits: 2 }],
    ['yes_no', {}],
    [
      'choice',
      {
        choices: [
          { id: 'none', label: 'None' },
          { id: 'seven', label: '7' },
        ],
      },
    ],
  ])('is shown with every value that would not come back the same, and undo restores them to the letter: %s', async (kind, more) => {
    const app = await begin();
    const refused = await ada.refused(contract.changeDesign, { params: { app: app.id }, body: { version: app.version, changes: [become(kind, more)] } });
    expect(refused.body.code).toBe('needs_consent');
    const changed = await change(app, [become(kind, more)]);
    // One record was corrected meanwhile: what was entered since stays.
    await it.sql(`UPDATE "app_${app.id}".parts SET code = NULL WHERE id = 5`);
    const back = await undo(changed);
    expect(await values(back)).toEqual(texts.map((text, i) => (i === 4 ? (kind === 'whole' || kind === 'decimal' || kind === 'choice' ? null : text) : text)));
  });
  test('is told in numbers: what becomes empty, and what becomes something else', async () => {
    const app = await begin();
    const { steps } = await ada.call(contract.previewChanges, { params: { app: app.id }, body: { version: app.version, changes: [become('whole')] } });
    const found = steps.flatMap((step) => step.found ?? []);
    expect(found[0]).toContain('3 values of Code do not fit the new kind and become empty: “1.50”, “none”, “x”.');
    expect(found[1]).toContain('4 values of Code change: “00501” becomes “501”, “ 5 ” becomes “5”, “+5” becomes “5”, “-0” becomes “0”.');
  });
});

const labels = ['draft', 'in_lab', 'released'].map((id) => ({ id, label: id }));
const lab: DesignChange = {
  kind: 'put',
  part: 'role',
  value: { id: 'lab', name: 'Lab', description: '', everything: false, menu: [], grants: [grantOf('g_lab', 'lots', { hidden: ['l_water'] })] },
};
const move = (id: string, from: string, to: string, more: object = {}) => ({
  id,
  name: id,
  from,
  to,
  roles: ['lab'],
  guard: '',
  duty: 'should' as const,
  ...more,
});
const route: Route = {
  id: 'way',
  name: 'Way',
  description: '',
  section: '',
  table: 'lots',
  field: 'l_status',
  statuses: [{ choice: 'draft', kind: 'start' }],
  moves: [move('send', 'draft', 'in_lab', { guard: 'Water < 20' }), move('recall', 'in_lab', 'draft', { duty: 'may' })],
};

describe('a route on a table with records', () => {
  test('gives them their status: lists, tiles and files say what the diagram says', async () => {
    const app = await makeApp(ada, 'Routed', [
      table('lots', 'Lots', [field('whole', 'l_water', 'Water'), field('choice', 'l_status', 'Status', { choices: labels })]),
      lab,
    ]);
    await add(app, 'lots', [{ l_water: 1 }, { l_water: 2 }, { l_status: 'released' }]);
    const { steps } = await ada.call(contract.previewChanges, {
      params: { app: app.id },
      body: { version: app.version, changes: [{ kind: 'put', part: 'route', value: route }] },
    });
    expect(steps.flatMap((step) => step.found ?? [])).toEqual(['2 records of Lots without a Status begin at draft.']);
    await change(app, [{ kind: 'put', part: 'route', value: route }]);
    const { counts } = await ada.call(contract.countStatuses, { params: { app: app.id, route: 'way' } });
    expect(counts).toMatchObject({ draft: 2, released: 1 });
    const rows = await it.sql(`SELECT status FROM "app_${app.id}".lots ORDER BY id`);
    expect(rows.map((row) => row['status'])).toEqual(['draft', 'draft', 'released']);
  });
});

describe('what waits', () => {
  test('is counted in all, after its guards, page by page, without what is nobody’s duty', async () => {
    const app = await makeApp(ada, 'Waiting', [
      table('lots', 'Lots', [field('whole', 'l_water', 'Water'), field('choice', 'l_status', 'Status', { choices: labels })]),
      lab,
      { kind: 'put', part: 'route', value: route },
    ]);
    const lena = await it.person('Lena Foss');
    await it.server.people.join(app.id, lena.id, 'member', ['lab']);
    // The first 150 are held back by the guard; then come 130 that can go on.
    await add(app, 'lots', [...Array.from({ length: 150 }, () => ({ l_water: 30 })), ...Array.from({ length: 130 }, () => ({ l_water: 10 }))]);
    const waiting = (query: object = {}) => lena.call(contract.readWaiting, { params: { app: app.id }, query: { ...query } });
    const first = (await waiting()).routes[0];
    expect([first?.count, first?.atLeast, first?.records.length, first?.more]).toEqual([130, false, 100, true]);
    expect(first?.records.every((record) => record.moves.includes('send'))).toBe(true);
    const rest = (await waiting({ route: 'way', after: first?.records.at(-1)?.id ?? 0 })).routes[0];
    expect([rest?.records.length, rest?.more]).toEqual([30, false]);
    // Once sent it can be recalled, which nobody has to do.
    const [item] = first?.records ?? [];
    await lena.call(contract.saveRecords, {
      params: { app: app.id },
      body: { key: saveKey(), writes: [{ kind: 'move', table: 'lots', id: item?.id ?? 0, rev: item?.rev ?? 0, move: 'send' }] },
    });
    expect((await waiting()).routes[0]?.count).toBe(129);
    const moves = await lena.call(contract.readMoves, { params: { app: app.id, table: 'lots', id: item?.id ?? 0 } });
    expect(moves.moves.map((each) => each.id)).toEqual(['recall']);
    // The guard reads what the lab does not see: whether it is met is told, and what it asks is not.
    const held = await lena.call(contract.readMoves, { params: { app: app.id, table: 'lots', id: 1 } });
    expect(held.moves).toEqual([{ id: 'send', isOpen: false, guard: '?' }]);
  });
});
