import { contract, grantOf, mostOwnLinks, mostOwnSections, type OpenApp, type OwnLink } from '@bibliona/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { honey, makeApp, saveKey, testServer, type Caller, type TestServer } from './support.js';

/** What people put into their menus themselves, and the records that they opened last. */
let it: TestServer;
let ada: Caller & { id: number };
let bede: Caller & { id: number };
let app: OpenApp;
const hives = Array.from({ length: 40 }, (_, i) => i + 1);

beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada');
  bede = await it.person('Bede');
  app = await makeApp(ada, 'Moor honey', [
    ...honey,
    {
      kind: 'put',
      part: 'role',
      value: {
        id: 'some',
        name: 'Some',
        description: '',
        everything: false,
        menu: [],
        grants: [grantOf('g_hives', 'hives', { condition: 'Queen year > 2000' })],
      },
    },
  ]);
  await it.server.people.join(app.id, bede.id, 'member');
  await ada.call(contract.changePerson, { params: { app: app.id, person: bede.id }, body: { role: 'member', roles: ['some'], ties: {} } });
  await ada.call(contract.saveRecords, {
    params: { app: app.id },
    body: {
      key: saveKey(),
      writes: hives.map((n) => ({ kind: 'add', table: 'hives', as: `h${n}`, values: { h_code: `H-${n}`, h_year: n % 2 === 0 ? 2024 : 1999 } })),
    },
  });
});
afterAll(() => it.close());

const at = () => ({ params: { app: app.id } });
const read = (who: Caller) => who.call(contract.readOwnMenu, at());
const keep = (who: Caller, revision: number, sections: object) => who.call(contract.keepOwnMenu, { ...at(), body: { revision, sections } });
const hive = (id: number): OwnLink => ({ kind: 'record', table: 'hives', id });
const open = (who: Caller, id: number) => who.call(contract.noteOpened, { ...at(), body: { table: 'hives', id } });

describe('one’s own part of the menu', () => {
  test('is empty at first, and then as it was kept, for its person alone', async () => {
    expect(await read(ada)).toEqual({ revision: 0, sections: [], records: [], recent: [] });
    const sections = [
      { name: 'Favourites', links: [hive(2), { kind: 'page', page: { kind: 'list', list: 'l_hives' } }] },
      { name: 'Later', links: [hive(7)] },
    ];
    expect(await keep(ada, 0, sections)).toEqual({ revision: 1 });
    expect(await read(ada)).toMatchObject({
      revision: 1,
      sections,
      records: [
        { table: 'hives', id: 2, caption: 'H-2' },
        { table: 'hives', id: 7, caption: 'H-7' },
      ],
    });
    expect(await read(bede)).toMatchObject({ revision: 0, sections: [] });
  });

  test('is refused when it was changed in another window meanwhile', async () => {
    const { revision } = await read(ada);
    const answers = await Promise.all(
      ['One', 'Two'].map((name) => ada.send('POST', ada.path(contract.keepOwnMenu, { app: app.id }), { revision, sections: [{ name, links: [] }] })),
    );
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 422]);
    const after = await read(ada);
    expect(after.revision).toBe(revision + 1);
    expect(after.sections).toHaveLength(1);
  });

  test('names only records that its person can see, as they are called now', async () => {
    await keep(bede, 0, [{ name: 'Favourites', links: [hive(1), hive(2), hive(999)] }]);
    expect((await read(bede)).records).toEqual([{ table: 'hives', id: 2, caption: 'H-2' }]);
    await ada.call(contract.saveRecords, {
      params: { app: app.id },
      body: { key: saveKey(), writes: [{ kind: 'change', table: 'hives', id: 2, rev: 1, values: { h_code: 'H-two' } }] },
    });
    expect((await read(bede)).records).toEqual([{ table: 'hives', id: 2, caption: 'H-two' }]);
    // What it holds is kept all the same, for when it can be seen again.
    expect((await read(bede)).sections[0]?.links).toHaveLength(3);
  });

  test('has its bounds', async () => {
    const { revision } = await read(ada);
    const refused = async (sections: object): Promise<number> => (await ada.refused(contract.keepOwnMenu, { ...at(), body: { revision, sections } })).status;
    expect(await refused([{ name: '', links: [] }])).toBe(400);
    expect(await refused(Array.from({ length: mostOwnSections + 1 }, (_, i) => ({ name: `S${i}`, links: [] })))).toBe(400);
    expect(await refused([{ name: 'Many', links: Array.from({ length: mostOwnLinks + 1 }, () => hive(1)) }])).toBe(400);
    expect(await refused([{ name: 'Away', links: [{ kind: 'page', page: { kind: 'address', to: 'https://example.org' } }] }])).toBe(400);
  });
});

describe('records that were opened last', () => {
  test('are told with the latest first, each once, and no more than are looked through', async () => {
    for (const id of [...hives.slice(0, 30), 4]) await open(ada, id);
    expect((await read(ada)).recent.map((record) => record.id)).toEqual([4, 30, 29, 28, 27, 26, 25, 24]);
    const [{ n } = { n: '' }] = await it.sql<{ n: string }>(
      `SELECT count(*) AS n FROM bibliona.opened_record WHERE app_id = '${app.id}' AND person_id = ${ada.id}`,
    );
    expect(Number(n)).toBe(24);
  });

  test('are those that their person can see', async () => {
    const hidden = await bede.refused(contract.noteOpened, { ...at(), body: { table: 'hives', id: 1 } });
    const none = await bede.refused(contract.noteOpened, { ...at(), body: { table: 'hives', id: 999 } });
    expect([hidden.status, hidden.body.message]).toEqual([none.status, none.body.message]);
    expect((await bede.refused(contract.noteOpened, { ...at(), body: { table: 'no_such', id: 1 } })).status).toBe(404);
    await open(bede, 6);
    await open(bede, 8);
    await ada.call(contract.saveRecords, {
      params: { app: app.id },
      body: {
        key: saveKey(),
        writes: [
          { kind: 'change', table: 'hives', id: 6, rev: 1, values: { h_year: 1999 } },
          { kind: 'remove', table: 'hives', id: 10, rev: 1 },
        ],
      },
    });
    expect((await read(bede)).recent.map((record) => record.caption)).toEqual(['H-8']);
  });
});
