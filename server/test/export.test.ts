import { contract, plainList, type DesignChange, type OpenApp } from '@bibliona/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { textsOf } from './pdf.js';
import { honey, makeApp, saveKey, testServer, type Caller, type TestServer } from './support.js';

const grant = (role: string, more: object) => ({
  id: `g_${role}`,
  table: 'hives',
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
const role = (id: string, ...grants: readonly object[]): DesignChange =>
  ({ kind: 'put', part: 'role', value: { id, name: id, description: '', everything: false, menu: [], grants } }) as DesignChange;
const query = {
  id: 'q_rents',
  name: 'Rents: all',
  description: '',
  section: '',
  table: 'hives',
  condition: '',
  columns: [
    { id: 'c_stores', name: 'Stores', expression: 'Stores', summary: null, digits: null },
    { id: 'c_sum', name: 'Rent', expression: 'Rent', summary: 'sum' as const, digits: null },
  ],
  order: [{ column: 'c_sum', direction: 'down' as const }],
  limit: null,
};

describe('a file of records', () => {
  let it: TestServer;
  let app: OpenApp;
  const people: Record<string, Caller> = {};
  const who = (name: string): Caller => {
    const caller = people[name];
    if (caller === undefined) throw new Error(name);
    return caller;
  };
  beforeAll(async () => {
    it = await testServer();
    people['ada'] = await it.person('Ada Wren');
    const roles = [
      role('looks', grant('looks', {})),
      role(
        'takes',
        grant('takes', { export: true, condition: 'Stores = "Low"', hidden: ['h_notes', 'h_year'] }),
        grant('more', { id: 'g_more', hidden: ['h_year'] }),
      ),
    ];
    const list = { ...plainList, id: 'hives_summed', name: 'Summed', table: 'hives', roles: [], isDefault: false, columns: ['h_code'], sums: ['h_rent'] };
    app = await makeApp(who('ada'), 'Exported', [...honey, ...roles, { kind: 'put', part: 'query', value: query }, { kind: 'put', part: 'list', value: list }]);
    for (const name of ['looks', 'takes']) {
      const person = await it.person(`Some ${name}`);
      people[name] = person;
      await it.sql(`INSERT INTO bibliona.app_person (app_id, person_id, role, roles) VALUES ($1, $2, 'member', $3)`, [app.id, person.id, [name]]);
    }
    const writes = Array.from({ length: 1200 }, (_, i) => ({
      kind: 'add',
      table: 'hives',
      as: `h${i}`,
      values: { h_code: `H-${i}`, h_rent: i === 0 ? '1.50' : null, h_stores: i % 3 === 0 ? 'low' : 'full', h_notes: i === 3 ? '=cmd(), "x"' : null },
    }));
    await who('ada').call(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes } });
  });
  afterAll(() => it.close());

  const file = async (name: string, route: typeof contract.exportRecords | typeof contract.exportQuery): Promise<string[]> => {
    const { type, bytes } = await who(name).download(route, { app: app.id, table: 'hives', query: 'q_rents' });
    expect(type).toBe('text/csv; charset=utf-8');
    return new TextDecoder().decode(bytes).split('\r\n').slice(0, -1);
  };

  test('holds every record of a list once, and is read back by an import as it was', async () => {
    const lines = await file('ada', contract.exportRecords);
    expect(lines[0]).toBe('Record number,Code,Queen year,Rent,Since,Gentle,Stores,Notes,Apiary');
    expect(lines).toHaveLength(1201);
    expect(new Set(lines).size).toBe(1201);
    expect(lines[1]).toBe('1,H-0,,1.5,,,Low,,');
    expect(lines[4]).toBe(`4,H-3,,,,,Low,"'=cmd(), ""x""",`);
  });

  test('is refused to who can only look, and holds for others what their grants let them export', async () => {
    for (const route of [contract.exportRecords, contract.exportQuery]) {
      const refused = await who('looks').refused(route, { params: { app: app.id, table: 'hives', query: 'q_rents' } });
      expect([refused.status, refused.body.message]).toEqual([403, "You don't have permission to export records of Hives as a file."]);
    }
    expect(app.rights['hives']?.export).toBe(true);
    const lines = await file('takes', contract.exportRecords);
    expect(lines).toHaveLength(401);
    expect(lines.join()).not.toContain('Full');
    // A note is theirs to see by another grant, and not theirs to take away.
    expect(lines.join()).not.toContain('cmd');
  });

  test('of chosen records holds these, and none that the list does not show or that may not be taken away', async () => {
    const only = JSON.stringify([1, 2, 4, 99_999]);
    const { bytes } = await who('ada').download(contract.exportRecords, { app: app.id, table: 'hives' }, { only, search: 'H-' });
    expect(new TextDecoder().decode(bytes).match(/H-\d+/gu)).toEqual(['H-0', 'H-1', 'H-3']);
    const { bytes: found } = await who('ada').download(contract.exportRecords, { app: app.id, table: 'hives' }, { only, search: 'H-3' });
    expect(new TextDecoder().decode(found).match(/H-\d+/gu)).toEqual(['H-3']);
    const { bytes: theirs } = await who('takes').download(contract.exportRecords, { app: app.id, table: 'hives' }, { only });
    expect(new TextDecoder().decode(theirs).match(/H-\d+/gu)).toEqual(['H-0', 'H-3']);
    for (const wrong of ['[]', '[0]', '["1"', JSON.stringify(Array.from({ length: 1001 }, (_, i) => i + 1))])
      await expect(who('ada').download(contract.exportRecords, { app: app.id, table: 'hives' }, { only: wrong })).rejects.toThrow('answered 400');
  });

  test('on paper has the columns that one sees, sorted as the list is, with its sums, for who can take records away', async () => {
    const paper = async (name: string, query: Readonly<Record<string, string>>): Promise<string> => {
      const { type, bytes } = await who(name).download(contract.printRecords, { app: app.id, table: 'hives' }, query);
      expect(type).toBe('application/pdf');
      return (await textsOf(bytes)).join();
    };
    const only = JSON.stringify([1, 2, 4]);
    const columns = JSON.stringify(['h_code', 'h_rent', 'h_notes']);
    const list = 'hives_summed';
    const all = await paper('ada', { list, only, columns, sort: 'h_code', direction: 'down' });
    expect(all.match(/H-\d+/gu)).toEqual(['H-3', 'H-1', 'H-0']);
    // The rent of all three, as its field has it.
    expect(all.match(/1\.50/gu)).toHaveLength(2);
    expect(all).toContain('=cmd()');
    const theirs = await paper('takes', { list, only, columns });
    expect(theirs.match(/H-\d+/gu)).toEqual(['H-0', 'H-3']);
    expect(theirs).not.toContain('cmd');
    // A field that no grant shows is not even named.
    const asked = await paper('takes', { only, columns: JSON.stringify(['h_code', 'h_year']), sort: 'h_year' });
    expect([asked.includes('Code'), asked.includes('Queen year')]).toEqual([true, false]);
    // Sorted by what is not on the paper.
    expect((await paper('ada', { only, columns: '["h_code"]', sort: 'h_stores', direction: 'down' })).match(/H-\d+/gu)).toEqual(['H-1', 'H-0', 'H-3']);
    const refused = await who('looks').refused(contract.printRecords, { params: { app: app.id, table: 'hives' } });
    expect([refused.status, refused.body.message]).toEqual([403, "You don't have permission to export records of Hives as a file."]);
    const none = await who('ada').refused(contract.printRecords, { params: { app: app.id, table: 'hives' }, query: { columns: '["nothing"]' } });
    expect([none.status, none.body.message]).toEqual([422, 'None of these columns has words to print. Show another column first.']);
  });

  test('of a query holds its rows, of the records that may be exported', async () => {
    expect(await file('ada', contract.exportQuery)).toEqual(['Stores,Rent', 'Low,1.5', 'Full,']);
    expect(await file('takes', contract.exportQuery)).toEqual(['Stores,Rent', 'Low,1.5']);
    const paper = async (name: string, query: Readonly<Record<string, string>> = {}): Promise<string> =>
      (await textsOf((await who(name).download(contract.printQuery, { app: app.id, query: 'q_rents' }, query)).bytes)).join();
    const words = (text: string) => text.match(/Low|Full|1\.5/gu);
    // The sum of both below them.
    expect(words(await paper('ada'))).toEqual(['Low', '1.5', 'Full', '1.5']);
    expect(words(await paper('ada', { sort: 'c_stores', direction: 'down' }))).toEqual(['Full', 'Low', '1.5', '1.5']);
    expect(words(await paper('ada', { search: 'full' }))).toEqual(['Full']);
    expect(words(await paper('takes'))).toEqual(['Low', '1.5', '1.5']);
    expect((await who('looks').refused(contract.printQuery, { params: { app: app.id, query: 'q_rents' } })).status).toBe(403);
  });
});
