import { listFor, type AppDesign, contract, type DesignChange, type OpenApp } from '@bibliona/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { field, honey, makeApp, saveKey, testServer, type Caller, type TestServer } from './support.js';

let it: TestServer;
let ada: Caller & { readonly id: number };
beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Wren');
});
afterAll(() => it.close());

const add = (table: string, id: string, name: string, expression: string): DesignChange => ({
  kind: 'add_field',
  table,
  field: field('formula', id, name, { expression, digits: null }),
});
const rules: readonly DesignChange[] = [
  ...honey,
  add('hives', 'h_label', 'Label', 'Code + " at " + Apiary.Name'),
  add('hives', 'h_twice', 'Rent twice', 'Rent * 2'),
  add('apiaries', 'a_hives', 'Hive count', 'count(Hives)'),
  add('apiaries', 'a_rents', 'All rents', 'sum(Hives.Rent twice)'),
  { kind: 'add_field', table: 'hives', field: field('text', 'h_by', 'Entered by', { default: 'me.Name' }) },
  { kind: 'add_field', table: 'hives', field: field('date', 'h_next', 'Next visit', { default: 'today() + duration("P7D")' }) },
];
const save = (app: OpenApp, ...writes: readonly object[]) => ada.call(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes } });
const refused = (app: OpenApp, ...writes: readonly object[]) =>
  ada.refused(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes } });
const change = (app: OpenApp, ...changes: readonly DesignChange[]) =>
  ada.call(contract.changeDesign, { params: { app: app.id }, body: { version: app.version, changes } });
const page = async (app: OpenApp, table: string, query: Readonly<Record<string, string | number>> = {}) =>
  (await ada.call(contract.readPage, { params: { app: app.id, table }, query })).records;

async function filled(name: string, more: readonly DesignChange[] = []): Promise<OpenApp> {
  const app = await makeApp(ada, name, [...rules, ...more]);
  await save(
    app,
    { kind: 'add', table: 'apiaries', as: 'a', values: { a_name: 'Brackmoor' } },
    { kind: 'add', table: 'apiaries', as: 'b', values: { a_name: 'Heron Mere' } },
    { kind: 'add', table: 'hives', as: 'x', values: { h_code: 'H-1', h_rent: '10.10', h_apiary: { added: 'a' } } },
    { kind: 'add', table: 'hives', as: 'y', values: { h_code: 'H-2', h_rent: '0.20', h_apiary: { added: 'a' } } },
    { kind: 'add', table: 'hives', as: 'z', values: { h_code: 'H-3', h_apiary: { added: 'b' } } },
  );
  return app;
}

describe('formulas', () => {
  test('are computed in lists and records, exactly, over references, children and other formulas', async () => {
    const app = await filled('Formulas');
    expect((await page(app, 'hives')).map((each) => [each.values['h_label'], each.values['h_twice']])).toEqual([
      ['H-1 at Brackmoor', '20.2'],
      ['H-2 at Brackmoor', '0.4'],
      ['H-3 at Heron Mere', null],
    ]);
    expect((await page(app, 'apiaries')).map((each) => [each.values['a_hives'], each.values['a_rents']])).toEqual([
      ['2', '20.6'],
      ['1', null],
    ]);
    const open = await ada.call(contract.readRecord, { params: { app: app.id, table: 'apiaries', id: 1 } });
    expect(open.record.values['a_rents']).toBe('20.6');
  });

  test('sort a list, page by page, with empty ones last', async () => {
    const app = await filled('Sorted');
    for (const [sort, direction, wanted] of [
      ['h_twice', 'up', ['H-2', 'H-1', 'H-3']],
      ['h_twice', 'down', ['H-1', 'H-2', 'H-3']],
      ['h_label', 'down', ['H-3', 'H-2', 'H-1']],
    ] as const) {
      const seen: unknown[] = [];
      let after: string | undefined;
      for (let n = 0; n < 3; n += 1) {
        const answer = await ada.call(contract.readPage, {
          params: { app: app.id, table: 'hives' },
          query: { sort, direction, limit: 1, ...(after === undefined ? {} : { after }) },
        });
        seen.push(...answer.records.map((record) => record.values['h_code']));
        after = JSON.stringify(answer.next);
      }
      expect(seen).toEqual(wanted);
    }
    const bad = await ada.refused(contract.readPage, { params: { app: app.id, table: 'hives' }, query: { sort: 'h_twice', after: '{"value":"x","id":1}' } });
    expect(bad.status).toBe(400);
  });

  test('cannot be written, and need no column', async () => {
    const app = await filled('Unwritable');
    expect((await refused(app, { kind: 'change', table: 'hives', id: 1, rev: 1, values: { h_twice: '5' } })).body.issues).toEqual([
      { write: 0, field: 'h_twice', message: "Rent twice is calculated and can't be entered" },
    ]);
    const columns = await it.sql<{ column_name: string }>(
      `SELECT column_name FROM information_schema.columns WHERE table_schema = $1 AND table_name = 'hives'`,
      [`app_${app.id}`],
    );
    expect(columns.map((column) => column.column_name)).not.toContain('rent_twice');
  });

  test('what an expression gives is shown before it is kept', async () => {
    const app = await filled('Tried');
    const tried = await ada.call(contract.tryExpression, {
      params: { app: app.id, table: 'hives' },
      body: { expression: 'Rent > 1 and Apiary.Name = "Brackmoor"' },
    });
    expect(tried).toMatchObject({
      met: 1,
      of: 3,
      rows: [
        { id: 1, caption: 'H-1', value: 'true' },
        { id: 2, value: 'false' },
        { id: 3, value: 'false' },
      ],
    });
    const bad = await ada.refused(contract.tryExpression, { params: { app: app.id, table: 'hives' }, body: { expression: 'Rnt' } });
    expect(bad).toMatchObject({ status: 422, body: { message: 'Hives has nothing called “Rnt”. Did you mean Rent?' } });
    const member = await it.person('Bo Finch');
    await it.server.people.join(app.id, member.id, 'member');
    expect((await member.refused(contract.tryExpression, { params: { app: app.id, table: 'hives' }, body: { expression: 'Code' } })).status).toBe(403);
  });
});

describe('defaults', () => {
  test('are computed for the person who adds the record, and an empty value is a value', async () => {
    const app = await filled('Defaults');
    const [first] = await page(app, 'hives');
    expect(first?.values['h_by']).toBe('Ada Wren');
    const inAWeek = new Date(Date.now() + 7 * 86_400_000).toISOString().slice(0, 10);
    expect(first?.values['h_next']).toBe(inAWeek);
    await save(app, { kind: 'add', table: 'hives', as: 'n', values: { h_code: 'H-9', h_by: null } });
    expect((await page(app, 'hives')).at(-1)?.values['h_by']).toBeNull();
  });
});

describe('a condition on a list', () => {
  test('leaves records out of pages, counts and neighbours', async () => {
    const app = await filled('Listed');
    await change(app, { kind: 'put', part: 'list', value: { ...listFor(app.design as AppDesign, 'hives'), condition: 'Rent != null' } });
    expect((await page(app, 'hives')).map((each) => each.values['h_code'])).toEqual(['H-1', 'H-2']);
    expect((await ada.call(contract.countPage, { params: { app: app.id, table: 'hives' } })).count).toBe(2);
    expect(await ada.call(contract.readNeighbours, { params: { app: app.id, table: 'hives', id: 2 } })).toEqual({ previous: 1, next: null });
  });
});

describe('checks', () => {
  const checks: readonly DesignChange[] = [
    {
      kind: 'change_table',
      table: 'hives',
      checks: [
        { id: 'k_rent', condition: 'Rent >= 0', message: 'Rent cannot be negative.' },
        { id: 'k_by', condition: 'Entered by = me.Name', message: 'Only your own.' },
      ],
    },
    { kind: 'change_table', table: 'apiaries', checks: [{ id: 'k_most', condition: 'Hive count <= 2', message: 'At most two hives.' }] },
  ];

  test('refuse a record with their sentence, and take what is unknown', async () => {
    const app = await filled('Checked', checks);
    const answer = await refused(app, { kind: 'change', table: 'hives', id: 1, rev: 1, values: { h_rent: '-1' } });
    const issue = { write: 0, field: 'h_rent', message: 'Rent cannot be negative.' };
    expect(answer).toMatchObject({ status: 422, body: { message: issue.message, issues: [issue] } });
    expect((await page(app, 'hives'))[0]).toMatchObject({ rev: 1, values: { h_rent: '10.1' } });
    await save(app, { kind: 'change', table: 'hives', id: 1, rev: 1, values: { h_rent: null } });
    expect((await refused(app, { kind: 'add', table: 'hives', as: 'n', values: { h_code: 'H-7', h_by: 'Someone' } })).body.message).toBe('Only your own.');
    // A record that breaks it already is refused at none of the fields that this save writes.
    const others = await change(app, { kind: 'change_table', table: 'hives', checks: [{ id: 'k_code', condition: 'Code = "none"', message: 'None.' }] });
    const { issues } = (await refused(others, { kind: 'change', table: 'hives', id: 1, rev: 2, values: { h_rent: '2' } })).body;
    expect(issues).toEqual([{ write: 0, message: 'None.' }]);
  });

  test('of a parent are asked when a child is added or moved to it', async () => {
    const app = await filled('Parents', checks);
    expect((await refused(app, { kind: 'add', table: 'hives', as: 'n', values: { h_code: 'H-7', h_apiary: 1 } })).body.message).toBe(
      'Apiaries: At most two hives.',
    );
    expect((await refused(app, { kind: 'change', table: 'hives', id: 3, rev: 1, values: { h_apiary: 1 } })).body.message).toBe('Apiaries: At most two hives.');
    await save(app, { kind: 'add', table: 'hives', as: 'n', values: { h_code: 'H-7', h_apiary: 2 } });
  });

  test('of a parent are asked when a child leaves it', async () => {
    const app = await filled('Leaving');
    const least = await change(app, {
      kind: 'change_table',
      table: 'apiaries',
      checks: [{ id: 'k_least', condition: 'count(Hives) >= 1', message: 'One hive at least.' }],
    });
    expect((await refused(least, { kind: 'change', table: 'hives', id: 3, rev: 1, values: { h_apiary: 1 } })).body.message).toBe(
      'Apiaries: One hive at least.',
    );
    expect((await refused(least, { kind: 'remove', table: 'hives', id: 3, rev: 1 })).body.message).toBe('Apiaries: One hive at least.');
    await save(least, { kind: 'remove', table: 'hives', id: 2, rev: 1 });
  });
});
