import { contract, type DesignChange, type OpenApp, type Route } from '@bibliona/core';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { field, makeApp, saveKey, table, testServer, type Caller, type TestServer } from './support.js';

const choices = ['Draft', 'In lab', 'Released', 'On hold'].map((label) => ({ id: label.toLowerCase().replace(' ', '_'), label }));
const move = (id: string, name: string, from: string, to: string, roles: readonly string[], guard = '') => ({
  id,
  name,
  from,
  to,
  roles,
  guard,
  duty: 'should' as const,
});
const route: Route = {
  id: 'way',
  name: 'Route of a lot',
  description: '',
  section: '',
  table: 'lots',
  field: 'l_status',
  statuses: [
    { choice: 'draft', kind: 'start' },
    { choice: 'on_hold', kind: 'wait' },
    { choice: 'released', kind: 'done' },
  ],
  moves: [
    move('mo_send', 'Send to lab', 'draft', 'in_lab', ['keeper']),
    move('mo_release', 'Release', 'in_lab', 'released', ['lab'], 'Water < 20'),
    move('mo_hold', 'Hold', 'in_lab', 'on_hold', ['lab']),
    move('mo_back', 'Back to lab', 'on_hold', 'in_lab', ['lab']),
    move('mo_recall', 'Recall', 'released', 'on_hold', []),
  ],
};
const grant = (role: string, more: object) => ({
  id: `g_${role}`,
  table: 'lots',
  see: true,
  add: false,
  change: false,
  remove: false,
  export: false,
  condition: '',
  hidden: [],
  locked: [],
  ...more,
});
const role = (id: string, more: object) => ({ id, name: id, description: '', everything: false, menu: [], grants: [grant(id, more)] });
const changes: readonly DesignChange[] = [
  table('lots', 'Lots', [
    field('text', 'l_code', 'Code', { required: true }),
    field('whole', 'l_water', 'Water'),
    field('choice', 'l_status', 'Status', { choices, default: '"On hold"' }),
  ]),
  { kind: 'put', part: 'role', value: role('keeper', { add: true, change: true }) },
  { kind: 'put', part: 'role', value: role('lab', { condition: 'Status = "In lab" or Status = "On hold"' }) },
  { kind: 'put', part: 'role', value: role('outsider', { hidden: ['l_status'] }) },
  { kind: 'put', part: 'route', value: route },
];

describe('a route', () => {
  let it: TestServer;
  const people: Record<string, Caller & { readonly id: number }> = {};
  let app: OpenApp;
  let lot: { id: number; rev: number };
  const who = (name: string): Caller => {
    const caller = people[name];
    if (caller === undefined) throw new Error(name);
    return caller;
  };
  beforeAll(async () => {
    it = await testServer();
    people['ada'] = await it.person('Ada Wren');
    app = await makeApp(who('ada'), 'Moved', changes);
    for (const name of ['keeper', 'lab', 'outsider']) {
      const person = await it.person(`Some ${name}`);
      people[name] = person;
      await it.sql(`INSERT INTO bibliona.app_person (app_id, person_id, role, roles) VALUES ($1, $2, 'member', $3)`, [app.id, person.id, [name]]);
    }
  });
  afterAll(() => it.close());

  const body = (...writes: readonly object[]) => ({ params: { app: app.id }, body: { key: saveKey(), writes } });
  const add = async (values: object = {}): Promise<{ id: number; rev: number }> => {
    const { records } = await who('keeper').call(
      contract.saveRecords,
      body({ kind: 'add', table: 'lots', as: 'x', values: { l_code: '0101', l_water: 25, ...values } }),
    );
    return records[0] ?? { id: 0, rev: 0 };
  };
  beforeEach(async () => {
    lot = await add();
  });
  const write = (id: string) => ({ kind: 'move', table: 'lots', ...lot, move: id });
  const go = async (name: string, id: string): Promise<void> => {
    const { records } = await who(name).call(contract.saveRecords, body(write(id)));
    lot = { id: lot.id, rev: records[0]?.rev ?? 0 };
  };
  const refused = (name: string, ...writes: readonly object[]) => who(name).refused(contract.saveRecords, body(...writes));
  const status = async (): Promise<string | undefined> =>
    (await it.sql<{ status: string }>(`SELECT status FROM "app_${app.id}".lots WHERE id = $1`, [lot.id]))[0]?.status;
  const at = () => ({ app: app.id, table: 'lots', id: lot.id });

  test('begins every record at its start, whatever the default of the field says', async () => {
    expect(await status()).toBe('draft');
    const other = await refused('keeper', { kind: 'add', table: 'lots', as: 'x', values: { l_code: '1', l_status: 'released' } });
    expect(other.body.issues).toEqual([{ write: 0, field: 'l_status', message: 'Status begins at Draft' }]);
  });

  test('is the only way in which the status changes, for builders too', async () => {
    for (const name of ['keeper', 'ada']) {
      const answer = await refused(name, { kind: 'change', table: 'lots', ...lot, values: { l_status: 'released' } });
      expect(answer.body.issues).toEqual([{ write: 0, field: 'l_status', message: 'Status changes by the moves of its route alone' }]);
    }
    expect(app.rights['lots']?.locked).toContain('l_status');
    expect(await status()).toBe('draft');
  });

  test('lets those move who may, from where the record stands, and writes it into the history', async () => {
    await go('keeper', 'mo_send');
    expect(await status()).toBe('in_lab');
    const again = await refused('keeper', write('mo_send'));
    expect(again.body.message).toBe('“Send to lab” starts from Draft, but this record is at In lab.');
    const { entries } = await who('keeper').call(contract.readHistory, { params: at() });
    expect(entries[0]).toMatchObject({ kind: 'change', person: 'Some keeper', changes: [{ field: 'l_status', before: 'draft', after: 'in_lab' }] });
  });

  test('refuses who has no role of the move, who does not see the record, and what the guard holds back', async () => {
    // A draft is not the lab's to see: to them it is not there.
    expect((await refused('lab', write('mo_release'))).status).toBe(409);
    expect((await refused('outsider', write('mo_send'))).status).toBe(403);
    await go('keeper', 'mo_send');
    expect((await refused('keeper', write('mo_release'))).status).toBe(403);
    expect((await refused('lab', write('mo_release'))).body.message).toBe("“Release” isn't possible yet: its condition is not met.");
    expect((await refused('lab', { ...write('mo_hold'), move: 'mo_none' })).body.message).toContain('no longer part of the route');
    expect((await refused('lab', { ...write('mo_hold'), rev: 1 })).status).toBe(409);
    expect(await status()).toBe('in_lab');
  });

  test('shows the form where the record stands, where it has been, and which moves are open to whom', async () => {
    await go('keeper', 'mo_send');
    const theirs = await who('lab').call(contract.readMoves, { params: at() });
    expect(theirs.status).toBe('in_lab');
    expect(theirs.walk.map((each) => [each.status, each.by])).toEqual([
      // Where it was before it came into their sight is not theirs to know.
      ['in_lab', 'Some keeper'],
    ]);
    expect(theirs.moves).toEqual([
      { id: 'mo_release', isOpen: false, guard: 'Water < 20' },
      { id: 'mo_hold', isOpen: true, guard: '' },
    ]);
    expect((await who('keeper').call(contract.readMoves, { params: at() })).moves).toEqual([]);
    // The status is hidden from them: neither it nor its past is told.
    expect(await who('outsider').call(contract.readMoves, { params: at() })).toEqual({ status: null, walk: [], moves: [] });
  });

  test('tells each person what waits for them', async () => {
    const waiting = async (name: string): Promise<unknown[]> => {
      const { routes } = await who(name).call(contract.readWaiting, { params: { app: app.id } });
      return routes.flatMap((each) => each.records.filter((record) => record.id === lot.id).map((record) => [record.caption, record.status, record.moves]));
    };
    expect(await waiting('keeper')).toEqual([['0101', 'draft', ['mo_send']]]);
    expect(await waiting('lab')).toEqual([]);
    await go('keeper', 'mo_send');
    expect(await waiting('keeper')).toEqual([]);
    expect(await waiting('lab')).toEqual([['0101', 'in_lab', ['mo_hold']]]);
    expect(await waiting('outsider')).toEqual([]);
    // A builder can recall what was released; it does not wait for that.
    await go('lab', 'mo_hold');
    expect(await waiting('ada')).toEqual([['0101', 'on_hold', ['mo_back']]]);
    await it.sql(`UPDATE "app_${app.id}".lots SET status = 'released' WHERE id = $1`, [lot.id]);
    expect(await waiting('ada')).toEqual([]);
  });

  test('is proved on a real record: who could move it on, and why the others cannot', async () => {
    await go('keeper', 'mo_send');
    const proof = await who('ada').call(contract.walkRoute, { params: { app: app.id, route: 'way' } });
    expect(proof.record).toEqual({ id: lot.id, caption: '0101', status: 'in_lab' });
    expect(proof.people.map((person) => [person.name, person.moves, person.why])).toEqual([
      ['Ada Wren', ['mo_hold'], 'can'],
      ['Some keeper', [], 'no_role'],
      ['Some lab', ['mo_hold'], 'can'],
      ['Some outsider', [], 'no_role'],
    ]);
    const { counts } = await who('ada').call(contract.countStatuses, { params: { app: app.id, route: 'way' } });
    const rows = await it.sql<{ status: string; n: string }>(`SELECT status, count(*)::text AS n FROM "app_${app.id}".lots GROUP BY 1`);
    for (const { status: id, n } of rows) expect([id, counts[id]]).toEqual([id, Number(n)]);
  });

  test('that two people take at once is taken once', async () => {
    await go('keeper', 'mo_send');
    const both = await Promise.all([1, 2].map(() => who('lab').send('POST', `/api/apps/${app.id}/save`, { key: saveKey(), writes: [write('mo_hold')] })));
    expect(both.map((answer) => answer.status).sort()).toEqual([200, 409]);
  });

  test('loses its moves to no role that is removed, and goes with its field', async () => {
    const last = await who('ada').call(contract.openApp, { params: { app: app.id } });
    const without = await who('ada').call(contract.changeDesign, {
      params: { app: app.id },
      body: { version: last.version, changes: [{ kind: 'remove', part: 'role', id: 'outsider' }] },
    });
    expect(without.design.routes[0]?.moves).toHaveLength(5);
    const dropped = { ...field('choice', 'l_status', 'Status', { choices: choices.slice(0, 3) }) };
    const answer = await who('ada').refused(contract.changeDesign, {
      params: { app: app.id },
      body: { version: without.version, changes: [{ kind: 'change_field', table: 'lots', field: dropped }], acceptLoss: true },
    });
    expect(answer.body.message).toContain('leads from or to a status that no longer exists');
  });
});
