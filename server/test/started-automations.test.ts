import { contract, type Automation, type DesignChange, type OpenApp } from '@bibliona/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { field, makeApp, saveKey, table, testServer, type Caller, type TestServer } from './support.js';

const byHand = (id: string, name: string, more: Partial<Automation>): DesignChange => ({
  kind: 'put',
  part: 'automation',
  value: { id, name, description: '', section: '', isOn: true, table: 'lots', on: 'started', fields: [], moves: [], condition: '', steps: [], ...more },
});
const fill = (id: string, expression: string) => ({ field: id, itself: false, expression });
const sees = (id: string, condition = ''): object => ({
  ...{ id: `g_${id}`, table: 'lots', see: true, add: false, change: false, remove: false, export: false, hidden: [], locked: [] },
  condition,
});
const role = (id: string, ...grants: object[]): DesignChange =>
  ({ kind: 'put', part: 'role', value: { id, name: id, description: '', everything: false, menu: [], grants } }) as never;

const changes: readonly DesignChange[] = [
  table('lots', 'Lots', [field('text', 'l_code', 'Code', { required: true }), field('whole', 'l_jars', 'Jars'), field('yes_no', 'l_ready', 'Ready')]),
  table('tasks', 'Tasks', [field('text', 't_what', 'What', { unique: true })]),
  role('keeper', sees('keeper')),
  role('small', sees('small', 'Jars < 10')),
  byHand('au_label', 'Ask for labels', {
    startedBy: ['keeper'],
    condition: 'Jars > 0',
    steps: [
      { kind: 'change', id: 'st_1', values: [fill('l_ready', 'true')] },
      { kind: 'add', id: 'st_2', table: 'tasks', values: [fill('t_what', '"Label " + Code')] },
    ],
  }),
  byHand('au_tell', 'Tell the shop', {
    steps: [{ kind: 'mail', id: 'st_3', to: { kind: 'address', expression: '"shop@far.example"' }, subject: 'Lot {Code}', body: '{Jars} jars' }],
  }),
  byHand('au_off', 'Is off', { isOn: false }),
  byHand('au_add', 'By itself', { on: 'added', steps: [{ kind: 'change', id: 'st_4', values: [fill('l_ready', 'false')] }] }),
];

describe('automations that are run by hand', () => {
  let it: TestServer;
  let ada: Caller;
  let keeper: Caller;
  let small: Caller;
  let app: OpenApp;
  const save = (...writes: readonly object[]) => ({ params: { app: app.id }, body: { key: saveKey(), writes } });
  const lots = () => it.sql<{ id: number; rev: number; ready: boolean | null }>(`SELECT * FROM "app_${app.id}".lots ORDER BY id`);
  const tasks = () => it.sql<{ what: string }>(`SELECT what FROM "app_${app.id}".tasks ORDER BY id`);
  const add = async (code: string, jars: number | null): Promise<{ id: number; rev: number }> => {
    const { records } = await ada.call(contract.saveRecords, save({ kind: 'add', table: 'lots', as: 'x', values: { l_code: code, l_jars: jars } }));
    return records[0] ?? { id: 0, rev: 0 };
  };
  const start = ({ id, rev }: { id: number; rev: number }, automation: string) => ({ kind: 'start', table: 'lots', id, rev, automation });

  beforeAll(async () => {
    it = await testServer();
    ada = await it.person('Ada Wren');
    app = await makeApp(ada, 'By hand', changes);
    const member = async (name: string, of: string): Promise<Caller> => {
      const person = await it.person(name);
      await it.sql(`INSERT INTO bibliona.app_person (app_id, person_id, role, roles) VALUES ($1, $2, 'member', $3)`, [app.id, person.id, [of]]);
      return person;
    };
    keeper = await member('Bede Lunn', 'keeper');
    small = await member('Ines Varr', 'small');
  });
  afterAll(() => it.close());

  test('do what they do for someone who can’t change the record, who can undo it', async () => {
    const lot = await add('01', 5);
    const asked = save(start(lot, 'au_label'));
    const { records } = await keeper.call(contract.saveRecords, asked);
    expect(records).toEqual([{ write: 0, table: 'lots', id: lot.id, rev: lot.rev + 1 }]);
    expect((await lots()).find((each) => each.id === lot.id)?.ready).toBe(true);
    expect(await tasks()).toEqual([{ what: 'Label 01' }]);
    const { runs } = await ada.call(contract.readRuns, { params: { app: app.id, automation: 'au_label' } });
    expect(runs.map((run) => [run.by, run.record.id, run.error])).toEqual([['Bede Lunn', lot.id, null]]);
    // Sent again, it is the same save: nothing is done twice.
    await keeper.call(contract.saveRecords, asked);
    expect(await tasks()).toHaveLength(1);
    await keeper.call(contract.takeBackSave, { params: { app: app.id, save: asked.body.key }, body: { key: saveKey(), dry: false } });
    expect((await lots()).find((each) => each.id === lot.id)?.ready).toBe(false);
    expect(await tasks()).toEqual([]);
  });

  test('that only write mails write each of them once, however often they are asked for in one save', async () => {
    const lot = await add('02', 5);
    const asked = save(start(lot, 'au_tell'));
    await Promise.all([keeper.call(contract.saveRecords, asked), keeper.call(contract.saveRecords, asked), keeper.call(contract.saveRecords, asked)]);
    const mails = await it.sql(`SELECT 1 FROM bibliona.mail WHERE subject = 'Lot 02'`);
    expect(mails).toHaveLength(1);
    // Asked for anew, it is run anew.
    await keeper.call(contract.saveRecords, save(start(lot, 'au_tell')));
    expect(await it.sql(`SELECT 1 FROM bibliona.mail WHERE subject = 'Lot 02'`)).toHaveLength(2);
  });

  test('are for those whose role says so, and for records that they see', async () => {
    const [seen, unseen] = [await add('03', 5), await add('04', 50)];
    const refused = await small.refused(contract.saveRecords, save(start(seen, 'au_label')));
    expect([refused.status, refused.body.message]).toEqual([403, 'You can’t run “Ask for labels”.'.replace('’', "'")]);
    await small.call(contract.saveRecords, save(start(seen, 'au_tell')));
    expect((await small.refused(contract.saveRecords, save(start(unseen, 'au_tell')))).body.message).toContain('no longer exists');
    for (const [automation, of] of [
      ['au_off', keeper],
      ['au_add', ada],
      ['au_none', ada],
    ] as const)
      expect([automation, (await of.refused(contract.saveRecords, save(start(seen, automation)))).status]).toEqual([
        automation,
        automation === 'au_off' ? 403 : 409,
      ]);
    expect(await it.sql(`SELECT subject FROM bibliona.mail WHERE subject IN ('Lot 03', 'Lot 04')`)).toEqual([{ subject: 'Lot 03' }]);
  });

  test('are refused where the record does not meet their condition or was changed meanwhile, and then nothing is done', async () => {
    const [full, empty] = [await add('05', 5), await add('06', null)];
    const refused = await keeper.refused(contract.saveRecords, save(start(full, 'au_label'), start(empty, 'au_label')));
    expect(refused.body).toMatchObject({ message: '“Ask for labels” was not run: its condition is not met.', issues: [{ write: 1 }] });
    expect(await tasks()).toEqual([]);
    await ada.call(contract.saveRecords, save({ kind: 'change', table: 'lots', id: full.id, rev: full.rev, values: { l_jars: 6 } }));
    expect((await keeper.refused(contract.saveRecords, save(start(full, 'au_label')))).body.code).toBe('conflict');
    expect(await tasks()).toEqual([]);
  });

  test('run for many records in one save, all of them or none', async () => {
    const some = await Promise.all(['07', '08', '09'].map((code) => add(code, 1)));
    const { records } = await keeper.call(contract.saveRecords, save(...some.map((lot) => start(lot, 'au_label'))));
    expect(records.map((record) => record.rev)).toEqual([3, 3, 3]);
    expect(await tasks()).toHaveLength(3);
    // The label of one is there already, so none of the others is asked for either.
    const others = [await add('10', 1), await add('07', 1)];
    const refused = await keeper.refused(contract.saveRecords, save(...others.map((lot) => start(lot, 'au_label'))));
    expect(refused.body.message).toContain('“Ask for labels” failed at its step 2');
    expect(await tasks()).toHaveLength(3);
  });

  test('are run as often as they are asked for in one save, and together with other writes', async () => {
    const lot = await add('20', 3);
    await keeper.call(contract.saveRecords, save(start(lot, 'au_tell'), start(lot, 'au_tell')));
    expect(await it.sql(`SELECT 1 FROM bibliona.mail WHERE subject = 'Lot 20'`)).toHaveLength(2);
    // What the same save has written before is what it is run for.
    await ada.call(
      contract.saveRecords,
      save({ kind: 'change', table: 'lots', id: lot.id, rev: lot.rev, values: { l_code: '21' } }, { ...start(lot, 'au_tell'), rev: lot.rev + 1 }),
    );
    expect(await it.sql(`SELECT 1 FROM bibliona.mail WHERE subject = 'Lot 21'`)).toHaveLength(1);
    const gone = await add('22', 3);
    await ada.call(contract.saveRecords, save({ kind: 'remove', table: 'lots', ...gone }));
    expect((await ada.refused(contract.saveRecords, save(start(gone, 'au_tell')))).body.message).toContain('no longer exists');
    const task = await ada.refused(contract.saveRecords, save({ ...start(lot, 'au_tell'), table: 'tasks', id: 1 }));
    expect([400, 404, 409, 422]).toContain(task.status);
  });

  test('are told to those who can run them by their name alone', async () => {
    const known = async (of: Caller) => (await of.call(contract.openApp, { params: { app: app.id } })).design.automations;
    expect((await known(keeper)).map((each) => [each.name, each.steps, each.condition, each.startedBy])).toEqual([
      ['Ask for labels', [], '', undefined],
      ['Tell the shop', [], '', undefined],
    ]);
    expect((await known(small)).map((each) => each.name)).toEqual(['Tell the shop']);
  });
});
