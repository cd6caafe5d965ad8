import { contract, type Automation, type DesignChange, type OpenApp, type RunsAnswer } from '@bibliona/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { field, makeApp, saveKey, table, testServer, type Caller, type TestServer } from './support.js';

const choices = ['Draft', 'In lab', 'Released'].map((label) => ({ id: label.toLowerCase().replace(' ', '_'), label }));
const automation = (id: string, name: string, more: object): Automation => ({
  id,
  name,
  description: '',
  section: '',
  isOn: true,
  table: 'lots',
  on: 'added',
  fields: [],
  moves: [],
  condition: '',
  steps: [],
  ...more,
});
const put = (id: string, name: string, more: object): DesignChange => ({ kind: 'put', part: 'automation', value: automation(id, name, more) });
const fill = (id: string, expression: string) => ({ field: id, itself: false, expression });

const changes: readonly DesignChange[] = [
  table('lots', 'Lots', [
    field('text', 'l_code', 'Code', { required: true }),
    field('whole', 'l_jars', 'Jars'),
    field('decimal', 'l_price', 'Price', { digits: 2 }),
    field('date', 'l_released', 'Released on'),
    field('text', 'l_mail', 'Mail'),
    field('choice', 'l_status', 'Status', { choices }),
  ]),
  table('tasks', 'Tasks', [
    field('text', 't_what', 'What', { required: true, unique: true }),
    field('whole', 't_jars', 'Jars'),
    field('yes_no', 't_done', 'Done', { default: 'false' }),
  ]),
  {
    kind: 'add_relationship',
    id: 'r_tasks',
    parent: 'lots',
    child: 'tasks',
    fieldId: 'tasks_up',
    fieldName: 'Lot',
    childrenName: 'Tasks',
    required: false,
    whenParentRemoved: 'refuse',
  },
  table('notes', 'Notes', [field('text', 'n_text', 'Text'), field('whole', 'n_count', 'Count')]),
  {
    kind: 'put',
    part: 'role',
    value: {
      id: 'keeper',
      name: 'Keeper',
      description: '',
      everything: false,
      menu: [],
      grants: [
        { id: 'g_lots', table: 'lots', see: true, add: true, change: true, remove: false, export: false, condition: '', hidden: [], locked: ['l_released'] },
      ],
    },
  },
  {
    kind: 'put',
    part: 'route',
    value: {
      id: 'way',
      name: 'Way of a lot',
      description: '',
      section: '',
      table: 'lots',
      field: 'l_status',
      statuses: [
        { choice: 'draft', kind: 'start' },
        { choice: 'released', kind: 'done' },
      ],
      moves: [
        { id: 'mo_send', name: 'Send', from: 'draft', to: 'in_lab', roles: ['keeper'], guard: '', duty: 'should' },
        { id: 'mo_release', name: 'Release', from: 'in_lab', to: 'released', roles: ['keeper'], guard: '', duty: 'should' },
      ],
    },
  },
  put('au_release', 'On release', {
    on: 'moved',
    moves: ['mo_release'],
    steps: [
      { kind: 'change', id: 'st_1', values: [fill('l_released', 'date("2026-09-14")')] },
      {
        kind: 'add',
        id: 'st_2',
        table: 'tasks',
        values: [fill('t_what', '"Label " + Code'), fill('t_jars', 'Jars * 2'), { field: 'tasks_up', itself: true, expression: '' }],
      },
      {
        kind: 'mail',
        id: 'st_3',
        to: { kind: 'address', expression: 'Mail' },
        subject: 'Lot {Code} is released',
        body: 'On {Released on}: {Jars} jars at {Price}, {count(Tasks)} task. {{Thanks}}, {me.Name}',
      },
    ],
  }),
  put('au_task', 'Notes a large task', {
    table: 'tasks',
    condition: 'Jars > 1000',
    steps: [{ kind: 'add', id: 'st_4', table: 'notes', values: [fill('n_text', '"Large: " + What')] }],
  }),
  put('au_jars', 'Tells keepers of jars', {
    on: 'changed',
    fields: ['l_jars'],
    steps: [{ kind: 'mail', id: 'st_5', to: { kind: 'role', role: 'keeper' }, subject: '{Code}: {Jars} jars', body: 'See Lot {Code}.' }],
  }),
  put('au_count', 'Counts notes', {
    table: 'notes',
    on: 'changed',
    steps: [{ kind: 'change', id: 'st_6', values: [fill('n_count', 'if Count = null then 1 else Count + 1')] }],
  }),
  put('au_off', 'Is off', { isOn: false, steps: [{ kind: 'change', id: 'st_7', values: [fill('l_jars', '0')] }] }),
];

describe('automations', () => {
  let it: TestServer;
  let ada: Caller;
  let keeper: Caller & { readonly id: number };
  let app: OpenApp;
  const body = (...writes: readonly object[]) => ({ params: { app: app.id }, body: { key: saveKey(), writes } });
  const rows = <Row = Record<string, unknown>>(name: string): Promise<Row[]> => it.sql<Row>(`SELECT * FROM "app_${app.id}".${name} ORDER BY id`);
  const runs = async (id: string): Promise<RunsAnswer['runs']> => (await ada.call(contract.readRuns, { params: { app: app.id, automation: id } })).runs;
  const add = async (values: object): Promise<{ id: number; rev: number }> => {
    const { records } = await keeper.call(contract.saveRecords, body({ kind: 'add', table: 'lots', as: 'x', values }));
    return records[0] ?? { id: 0, rev: 0 };
  };
  const move = async (lot: { id: number; rev: number }, id: string): Promise<{ id: number; rev: number }> => {
    const { records } = await keeper.call(contract.saveRecords, body({ kind: 'move', table: 'lots', id: lot.id, rev: lot.rev, move: id }));
    return records[0] ?? { id: 0, rev: 0 };
  };
  const released = async (values: object) => move(await move(await add(values), 'mo_send'), 'mo_release');
  const change = async (...more: readonly DesignChange[]): Promise<void> => {
    app = await ada.call(contract.changeDesign, { params: { app: app.id }, body: { version: app.version, changes: more } });
  };
  const arrived = async (subject: string): Promise<{ to: string; body: string }[]> => {
    for (let i = 0; i < 200; i += 1) {
      const found = await it.sql<{ to: string; body: string }>(`SELECT recipients[1] AS "to", body FROM bibliona.mailbox WHERE subject = $1`, [subject]);
      if (found.length > 0) return found;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
    return [];
  };

  beforeAll(async () => {
    it = await testServer();
    ada = await it.person('Ada Wren');
    app = await makeApp(ada, 'Automated', changes);
    keeper = await it.person('Some keeper');
    await it.sql(`INSERT INTO bibliona.app_person (app_id, person_id, role, roles) VALUES ($1, $2, 'member', $3)`, [app.id, keeper.id, ['keeper']]);
  });
  afterAll(() => it.close());

  test('a move changes the record, adds one that refers to it, and writes a mail of what is there then', async () => {
    const lot = await released({ l_code: '0117', l_jars: 1200, l_price: '4.50', l_mail: 'shop@quillmoor.example' });
    const [row] = await it.sql<{ released_on: string; rev: number }>(`SELECT released_on::text, rev FROM "app_${app.id}".lots WHERE id = $1`, [lot.id]);
    expect(row).toEqual({ released_on: '2026-09-14', rev: lot.rev });
    expect(await rows('tasks')).toMatchObject([{ what: 'Label 0117', jars: 2400, done: false, lot: lot.id }]);
    expect(await arrived('Lot 0117 is released')).toEqual([
      { to: 'shop@quillmoor.example', body: 'On 14 Sep 2026: 1200 jars at 4.50, 1 task. {Thanks}, Some keeper\n' },
    ]);
    // What it added has triggered another one in turn, and the condition of that was asked.
    expect(await rows('notes')).toMatchObject([{ text: 'Large: Label 0117' }]);
    const [run] = await runs('au_release');
    expect(run).toMatchObject({
      by: 'Some keeper',
      error: null,
      record: { id: lot.id, caption: '0117' },
      steps: [
        { kind: 'change', fields: [{ field: 'l_released', name: 'Released on', before: null, after: '2026-09-14' }] },
        { kind: 'add', table: 'tasks', fields: [{ after: 'Label 0117' }, { after: '2400' }, { after: { id: lot.id } }] },
        { kind: 'mail', to: ['shop@quillmoor.example'], subject: 'Lot 0117 is released' },
      ],
      mails: [{ to: 'shop@quillmoor.example' }],
    });
    const { entries } = await keeper.call(contract.readHistory, { params: { app: app.id, table: 'lots', id: lot.id } });
    expect(entries.map((entry) => [entry.automatic, entry.person])).toEqual([
      [true, 'Some keeper'],
      [false, 'Some keeper'],
      [false, 'Some keeper'],
      [false, 'Some keeper'],
    ]);
  });

  test('are triggered by what has really changed, and not by a value that is written again', async () => {
    const lot = await add({ l_code: '0200', l_jars: 3 });
    const write = (rev: number, values: object) => keeper.call(contract.saveRecords, body({ kind: 'change', table: 'lots', id: lot.id, rev, values }));
    await write(lot.rev, { l_jars: 3, l_price: '1.00' });
    expect(await runs('au_jars')).toEqual([]);
    await write(lot.rev + 1, { l_jars: 4 });
    expect(await runs('au_jars')).toHaveLength(1);
    expect(await arrived('0200: 4 jars')).toEqual([{ to: 'some.keeper@quillmoor.example', body: 'See Lot 0200.\n' }]);
    expect(await runs('au_off')).toEqual([]);
  });

  test('are not triggered by themselves', async () => {
    const [note] = (await ada.call(contract.saveRecords, body({ kind: 'add', table: 'notes', as: 'n', values: { n_text: 'one' } }))).records;
    const { records } = await ada.call(contract.saveRecords, body({ kind: 'change', table: 'notes', id: note?.id, rev: note?.rev, values: { n_text: 'two' } }));
    expect((await rows<{ id: number; count: number; rev: number }>('notes')).find((row) => row.id === note?.id)).toMatchObject({ count: 1, rev: 3 });
    expect(records[0]?.rev).toBe(3);
  });

  test('a save that is sent twice is one save, with all that came of it', async () => {
    const lot = await add({ l_code: '0300', l_jars: 1 });
    const asked = body({ kind: 'change', table: 'lots', id: lot.id, rev: lot.rev, values: { l_jars: 2 } });
    await change(
      put('au_twice', 'Sets the price', { on: 'changed', fields: ['l_jars'], steps: [{ kind: 'change', id: 'st_8', values: [fill('l_price', 'Jars / 3')] }] }),
    );
    const first = await keeper.call(contract.saveRecords, asked);
    expect(await keeper.call(contract.saveRecords, asked)).toEqual(first);
    expect(await runs('au_twice')).toHaveLength(1);
    // Rounded to the digits of the field.
    const [row] = await it.sql(`SELECT price::text, rev FROM "app_${app.id}".lots WHERE id = $1`, [lot.id]);
    expect(row).toEqual({ price: '0.67', rev: first.records[0]?.rev });
    await change({ kind: 'remove', part: 'automation', id: 'au_twice' });
  });

  test('a step that cannot be done takes back the whole save, and both the person and the log are told which', async () => {
    const before = await rows('tasks');
    await released({ l_code: '0400', l_jars: 1 });
    const again = await move(await add({ l_code: '0400', l_jars: 1 }), 'mo_send');
    const refused = await keeper.refused(contract.saveRecords, body({ kind: 'move', table: 'lots', id: again.id, rev: again.rev, move: 'mo_release' }));
    expect(refused.body.message).toBe(
      'The automation “On release” failed at its step 2: What must be unique, and another record has Label 0400 already. Nothing was saved. Ask a builder of this app to correct it.',
    );
    expect((await rows<{ id: number; status: string; rev: number }>('lots')).find((row) => row.id === again.id)).toMatchObject({
      status: 'in_lab',
      rev: again.rev,
    });
    expect(await rows('tasks')).toHaveLength(before.length + 1);
    const [run] = await runs('au_release');
    expect(run).toMatchObject({
      error: 'What must be unique, and another record has Label 0400 already',
      record: { id: again.id },
      steps: [{ kind: 'change' }],
    });
    expect(run?.mails).toEqual([]);
  });

  test('a value that does not fit its field is told of by name', async () => {
    await change(put('au_bad', 'Halves jars', { condition: 'Code = "0500"', steps: [{ kind: 'change', id: 'st_9', values: [fill('l_jars', '5 / 2')] }] }));
    const refused = await keeper.refused(contract.saveRecords, body({ kind: 'add', table: 'lots', as: 'x', values: { l_code: '0500' } }));
    expect(refused.body.message).toContain('“Halves jars” failed at its step 1: Jars must be a whole number');
    await change({ kind: 'remove', part: 'automation', id: 'au_bad' });
  });

  test('what is no address gets no mail, which the log says, and the save stands', async () => {
    await released({ l_code: '0600', l_jars: 1, l_mail: 'nobody, shop@quillmoor.example' });
    const [run] = await runs('au_release');
    expect(run?.steps[2]).toMatchObject({ to: ['shop@quillmoor.example'], noAddress: ['nobody'] });
    expect(run?.mails).toHaveLength(1);
    await released({ l_code: '0601', l_jars: 1 });
    expect((await runs('au_release'))[0]?.steps[2]).toMatchObject({ to: [], noAddress: [] });
  });

  test('people of the app read in a mail what they can see of the record, and no more', async () => {
    const grant = (id: string, more: object) => ({
      ...{ id: `g_${id}`, table: 'lots', see: true, add: false, change: false, remove: false, export: false, condition: '', hidden: [], locked: [] },
      ...more,
    });
    const role = (id: string, ...grants: object[]): DesignChange =>
      ({ kind: 'put', part: 'role', value: { id, name: id, description: '', everything: false, menu: [], grants } }) as never;
    await change(
      role('priceless', grant('priceless', { hidden: ['l_price'] })),
      role('small', grant('small', { condition: 'Jars < 10 and contains(me.Mail, "small")' })),
      put('au_told', 'Tells of prices', {
        on: 'changed',
        fields: ['l_price'],
        steps: [
          {
            kind: 'mail',
            id: 'st_told',
            to: {
              kind: 'address',
              expression: '"Priceless.One@quillmoor.example, small.one@quillmoor.example, ada.wren@quillmoor.example, far@quillmoor.example"',
            },
            subject: 'Price of {Code}',
            body: '{Price} for {Jars}, by {me.Name}',
          },
        ],
      }),
    );
    for (const name of ['priceless', 'small']) {
      const person = await it.person(`${name} one`);
      await it.sql(`INSERT INTO bibliona.app_person (app_id, person_id, role, roles) VALUES ($1, $2, 'member', $3)`, [app.id, person.id, [name]]);
    }
    const told = async (jars: number): Promise<Record<string, string>> => {
      const lot = await add({ l_code: `09${jars}`, l_jars: jars });
      await keeper.call(contract.saveRecords, body({ kind: 'change', table: 'lots', id: lot.id, rev: lot.rev, values: { l_price: '7.50' } }));
      const rows = await it.sql<{ recipient: string; body: string }>(`SELECT recipient, body FROM bibliona.mail WHERE subject = $1`, [`Price of 09${jars}`]);
      return Object.fromEntries(rows.map((row) => [row.recipient, row.body]));
    };
    const whole = '7.50 for 50, by Some keeper';
    expect(await told(50)).toEqual({
      'priceless.one@quillmoor.example': ' for 50, by Some keeper',
      'ada.wren@quillmoor.example': whole,
      'far@quillmoor.example': whole,
    });
    expect((await runs('au_told'))[0]?.steps[0]).toMatchObject({ unseen: ['small.one@quillmoor.example'], noAddress: [] });
    // The condition of a grant is asked of the reader, and what the text says of the writer.
    expect(await told(5)).toMatchObject({ 'small.one@quillmoor.example': '7.50 for 5, by Some keeper' });
    await change({ kind: 'remove', part: 'automation', id: 'au_told' });
  });

  test('checks are asked of what automations have written', async () => {
    await change(
      { kind: 'change_table', table: 'lots', checks: [{ id: 'ch_few', condition: 'count(Tasks) < 2', message: 'A lot has one task.' }] },
      put('au_tasks', 'Two tasks', {
        condition: 'Code = "0700"',
        steps: [1, 2].map((n) => ({
          kind: 'add',
          id: `st_t${n}`,
          table: 'tasks',
          values: [fill('t_what', `"Task ${n} of " + Code`), { field: 'tasks_up', itself: true, expression: '' }],
        })),
      }),
    );
    const refused = await keeper.refused(contract.saveRecords, body({ kind: 'add', table: 'lots', as: 'x', values: { l_code: '0700' } }));
    expect(refused.body.issues.map((issue) => issue.message)).toContain('A lot has one task.');
    await change({ kind: 'remove', part: 'automation', id: 'au_tasks' });
  });

  test('a dry run tells what would come of it, and leaves nothing behind', async () => {
    const lot = await add({ l_code: '0800', l_jars: 600, l_price: '2.00', l_mail: 'shop@quillmoor.example' });
    const counts = async () => [
      await rows('lots'),
      await rows('tasks'),
      await rows('notes'),
      await it.sql('SELECT id FROM bibliona.mail ORDER BY id'),
      await it.sql('SELECT id FROM bibliona.run ORDER BY id'),
    ];
    const before = await counts();
    const draft = app.design.automations.find((each) => each.id === 'au_release');
    const tried = await ada.call(contract.tryAutomation, { params: { app: app.id }, body: { automation: draft, id: lot.id } });
    expect(tried).toMatchObject({
      record: { id: lot.id, caption: '0800' },
      isMet: true,
      error: null,
      sets: ['Notes a large task'],
      steps: [{ kind: 'change' }, { kind: 'add' }, { kind: 'mail', letters: [{ body: 'On 14 Sep 2026: 600 jars at 2.00, 1 task. {Thanks}, Ada Wren' }] }],
    });
    const unmet = await ada.call(contract.tryAutomation, { params: { app: app.id }, body: { automation: { ...draft, condition: 'Jars > 5000' }, id: lot.id } });
    expect(unmet).toMatchObject({ isMet: false, steps: [] });
    const cannot = await ada.refused(contract.tryAutomation, { params: { app: app.id }, body: { automation: { ...draft, condition: 'Jar > 5' } } });
    expect(cannot.body.message).toContain('The condition of the automation On release');
    expect(await counts()).toEqual(before);
  });

  test('says what of the design it speaks of is not there any more', async () => {
    const refusal = async (...more: readonly DesignChange[]): Promise<string> =>
      (await ada.refused(contract.changeDesign, { params: { app: app.id }, body: { version: app.version, changes: more } })).body.message;
    expect(await refusal({ kind: 'remove', part: 'route', id: 'way' })).toContain('The automation On release waits for moves');
    expect(await refusal({ kind: 'remove', part: 'role', id: 'keeper' })).toContain('Step 1 of the automation Tells keepers of jars sends mail to a role');
    expect(await refusal({ kind: 'remove', part: 'table', id: 'notes' })).toContain('Step 1 of the automation Notes a large task adds records to a table');
    expect(await refusal({ kind: 'remove_field', table: 'lots', field: 'l_mail' })).toContain(
      'It is still used in the address in step 3 of the automation On release',
    );
    expect(await refusal(put('au_x', 'X', { steps: [{ kind: 'change', id: 'st_x', values: [fill('l_status', '"Released"')] }] }))).toContain(
      'fills Status, which changes by the moves of its route alone',
    );
    expect(
      await refusal(put('au_x', 'X', { steps: [{ kind: 'mail', id: 'st_x', to: { kind: 'role', role: 'keeper' }, subject: '{Code', body: '' }] })),
    ).toContain('A { is not closed');
  });
});
