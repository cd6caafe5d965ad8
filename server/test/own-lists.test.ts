import { contract, grantOf, mostOwnLists, type DesignChange, type OpenApp } from '@bibliona/core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { honey, makeApp, saveKey, testServer, type Caller, type TestServer } from './support.js';

/** Lists that people keep for themselves. */
let it: TestServer;
let ada: Caller;
let ben: Caller;
let app: OpenApp;

beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada');
  const member = await it.person('Ben');
  ben = member;
  const query = (id: string): DesignChange => {
    const columns = ['code', 'stores'].map((name) => ({ id: name, name, expression: name === 'code' ? 'Code' : 'Stores', summary: null, digits: null }));
    return {
      kind: 'put',
      part: 'query',
      value: { id, name: id, description: '', section: '', table: 'hives', condition: '', columns, order: [], limit: null },
    };
  };
  const menu = [{ kind: 'query', query: 'q_hives' } as const];
  const role = { id: 'keeper', name: 'Keeper', description: '', everything: false, menu, grants: [grantOf('g_h', 'hives')] };
  app = await makeApp(ada, 'Own lists', [...honey, query('q_hives'), query('q_closed'), { kind: 'put', part: 'role', value: role }]);
  await it.server.people.join(app.id, member.id, 'member', ['keeper'], {});
});
afterAll(() => it.close());

const selection = { list: 'l_hives', search: 'H-1', direction: 'up', narrowed: [{ field: 'h_stores', values: ['Low', null] }], by: ['h_apiary'] } as const;
const keep = (own: string, name: string, more: object = {}) => ({
  params: { app: app.id, own },
  body: { name, of: { kind: 'table', table: 'hives', selection, ...more } },
});
const ownOf = async (who: Caller) => (await who.call(contract.openApp, { params: { app: app.id } })).ownLists;

test('a list of one’s own is kept for its owner alone, under its id once, and goes when they say so', async () => {
  const own = saveKey();
  await ben.call(contract.keepOwnList, keep(own, 'Low ones'));
  await ben.call(contract.keepOwnList, keep(own, 'Low ones again'));
  expect(await ownOf(ben)).toEqual([{ id: own, name: 'Low ones again', of: { kind: 'table', table: 'hives', selection } }]);
  expect(await ownOf(ada)).toEqual([]);
  // Who knows the id of somebody else's list keeps or removes one of their own by it.
  await ada.call(contract.keepOwnList, keep(own, 'Mine'));
  await ada.call(contract.removeOwnList, { params: { app: app.id, own } });
  expect((await ownOf(ben)).map((each) => each.name)).toEqual(['Low ones again']);
  await ben.call(contract.removeOwnList, { params: { app: app.id, own } });
  expect(await ownOf(ben)).toEqual([]);
  expect((await ben.refused(contract.removeOwnList, { params: { app: app.id, own } })).status).toBe(404);
});

test('so are the rows of a query, as they were picked and sorted', async () => {
  const own = saveKey();
  const of = {
    kind: 'query',
    query: 'q_hives',
    picked: { search: 'H-1', sort: 'code', direction: 'down', only: [{ column: 'stores', values: ['Low', null] }], by: ['stores'] },
  } as const;
  await ben.call(contract.keepOwnList, { params: { app: app.id, own }, body: { name: 'Low by code', of } });
  expect(await ownOf(ben)).toEqual([{ id: own, name: 'Low by code', of }]);
  // Before rows could be grouped, nothing was kept of that; what nobody understands keeps no app from being opened.
  const { by: _, ...before } = of.picked;
  const put = (kept: object): Promise<unknown> => it.sql(`UPDATE bibliona.own_list SET of = $2 WHERE id = $1`, [own, JSON.stringify(kept)]);
  await put({ ...of, picked: before });
  expect((await ownOf(ben))[0]?.of).toEqual({ ...of, picked: { ...before, by: [] } });
  await put({ kind: 'nothing' });
  expect(await ownOf(ben)).toEqual([]);
  await ben.call(contract.removeOwnList, { params: { app: app.id, own } });
});

test('a list of one’s own needs a name', async () => expect((await ben.refused(contract.keepOwnList, keep(saveKey(), ' '))).status).toBe(400));

test.each([
  ['narrowed by what is no list', { selection: { ...selection, narrowed: 'all' } }, 400],
  ['of a table that is none', { table: 'nothing' }, 404],
  ['of a query that is none', { kind: 'query', query: 'nothing', picked: {} }, 404],
  ['of a query that they can’t open', { kind: 'query', query: 'q_closed', picked: {} }, 404],
  ['of a query, picked by what is no list', { kind: 'query', query: 'q_hives', picked: { only: 'all' } }, 400],
])('a list of one’s own is refused %s', async (_, more, status) => {
  expect((await ben.refused(contract.keepOwnList, keep(saveKey(), 'Odd', more))).status).toBe(status);
});

test('a list of one’s own can be kept as often as the limit says, and then told so', async () => {
  for (let i = 0; i < mostOwnLists; i += 1) await ben.call(contract.keepOwnList, keep(saveKey(), `List ${i}`));
  const { body } = await ben.refused(contract.keepOwnList, keep(saveKey(), 'One more'));
  expect(body.message).toBe('You have 50 lists of your own. Remove one to keep another.');
});
