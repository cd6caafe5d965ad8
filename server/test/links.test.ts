import { contract, grantOf, type DesignChange, type Grant, type OpenApp, type Write } from '@bibliona/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { forageLink } from './forage.js';
import { field, makeApp, saveKey, table, testServer, type Caller, type TestServer } from './support.js';

/** Records of two tables that are tied to each other by a link: nobody grants its pairs, the grants of both records decide. */
let it: TestServer;
let ada: Caller & { id: number };
let app: OpenApp;
const sites = ['Hillfoot', 'Marsh', 'Quarry'] as const;
const plants = ['Heather', 'Lime', 'Clover'] as const;

interface Reach {
  readonly see: readonly string[];
  readonly change: readonly string[];
  readonly add: boolean;
  readonly grants: (table: string, name: string) => readonly Grant[];
}
const first = (all: readonly string[]): readonly string[] => all.slice(0, 1);
/** What someone can do with the records of one side: all of them, the first, or none. */
const reaches = (all: readonly string[]): Readonly<Record<string, Reach>> => {
  const only = (name: string): string => `${name} = "${all[0] ?? ''}"`;
  return {
    nothing: { see: [], change: [], add: false, grants: () => [] },
    'sees the first': { see: first(all), change: [], add: false, grants: (t, name) => [grantOf(`g_${t}`, t, { condition: only(name) })] },
    'sees all': { see: all, change: [], add: false, grants: (t) => [grantOf(`g_${t}`, t)] },
    'sees all and adds': { see: all, change: [], add: true, grants: (t) => [grantOf(`g_${t}`, t, { add: true })] },
    'sees all, changes the first': {
      see: all,
      change: first(all),
      add: false,
      grants: (t, name) => [grantOf(`g_${t}`, t), grantOf(`h_${t}`, t, { condition: only(name), change: true })],
    },
    'changes all but one field': { see: all, change: all, add: false, grants: (t) => [grantOf(`g_${t}`, t, { change: true, locked: [`${t}_note`] })] },
  };
};
const [ofSites, ofPlants] = [reaches(sites), reaches(plants)];
const roleOf = (t: string, at: number): string => `${t}_${at}`;
const roles = (t: string, name: string, all: Readonly<Record<string, Reach>>): readonly DesignChange[] =>
  Object.entries(all).map(([called, reach], at) => ({
    kind: 'put',
    part: 'role',
    value: {
      id: roleOf(t, at),
      name: `${t} ${called}`,
      description: '',
      everything: false,
      menu: [],
      grants: reach.grants(t, name).map((grant) => ({ ...grant, id: `${grant.id}_${at}` })),
    },
  }));

const idOf = (of: 'sites' | 'plants', name: string): number => (of === 'sites' ? sites.indexOf(name as never) : plants.indexOf(name as never)) + 1;
const pair = (site: string, plant: string): Write => ({
  kind: 'add',
  table: 'forage',
  as: 'pair',
  values: { f_site: idOf('sites', site), f_plant: idOf('plants', plant) },
});
const save = (...writes: readonly Write[]) => ({ params: { app: app.id }, body: { key: saveKey(), writes } });
const pairsOf = async (who: Caller, of: 'sites' | 'plants', name: string): Promise<readonly unknown[]> => {
  const open = await who.call(contract.readRecord, { params: { app: app.id, table: of, id: idOf(of, name) } });
  const block = open.children.find((child) => child.relationship === (of === 'sites' ? 'r_forage' : 'r_found'));
  return (block?.records ?? []).map((record) => (record.values[of === 'sites' ? 'f_plant' : 'f_site'] as { caption: string } | null)?.caption);
};

beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Roke');
  app = await makeApp(ada, 'Forage', [
    table('sites', 'Apiaries', [field('text', 'sites_name', 'Name'), field('text', 'sites_note', 'Note')]),
    table('plants', 'Plants', [field('text', 'plants_name', 'Plant'), field('text', 'plants_note', 'Note')]),
    forageLink,
    { kind: 'add_field', table: 'sites', field: field('formula', 'sites_all', 'All plants', { expression: 'string join(sort(Forage.Plant.Plant), ", ")' }) },
    ...roles('sites', 'Name', ofSites),
    ...roles('plants', 'Plant', ofPlants),
  ]);
  await ada.call(contract.saveRecords, save(...sites.map((name): Write => ({ kind: 'add', table: 'sites', as: name, values: { sites_name: name } }))));
  await ada.call(contract.saveRecords, save(...plants.map((name): Write => ({ kind: 'add', table: 'plants', as: name, values: { plants_name: name } }))));
});
afterAll(() => it.close());

test('pairs are no table of their own where the tables of an app are counted', async () => {
  expect((await ada.call(contract.listApps)).apps.find((each) => each.id === app.id)).toMatchObject({ tables: 2 });
});

describe('what someone can do with pairs follows from what they can do with both records', () => {
  const cases = Object.keys(ofSites).flatMap((site) => Object.keys(ofPlants).map((plant) => [site, plant] as const));
  test.each(cases)('apiaries: %s; plants: %s', async (siteReach, plantReach) => {
    const [site, plant] = [ofSites[siteReach] as Reach, ofPlants[plantReach] as Reach];
    const who = await it.person(`Bede ${siteReach} ${plantReach}`.replace(/[^\w ]/gu, ''));
    const held = [roleOf('sites', Object.keys(ofSites).indexOf(siteReach)), roleOf('plants', Object.keys(ofPlants).indexOf(plantReach))];
    await it.server.people.join(app.id, who.id, 'member', held);
    /** What a save answered; null where it was refused. */
    const tried = async (write: Write) => {
      const answer = await who.send('POST', who.path(contract.saveRecords, { app: app.id }), save(write).body);
      if (answer.status >= 500) throw new Error(JSON.stringify(answer.body));
      return answer.status === 200 ? (answer.body as { records: { id: number; rev: number }[] }) : null;
    };
    const trial = async (each: string, other: string): Promise<{ readonly added: boolean; readonly seen: boolean; readonly removed: boolean }> => {
      const mine = await tried(pair(each, other));
      const there = mine ?? (await ada.call(contract.saveRecords, save(pair(each, other))));
      const record = there.records[0] as { id: number; rev: number };
      const seen = site.see.includes(each) && (await pairsOf(who, 'sites', each)).includes(other);
      const removal: Write = { kind: 'remove', table: 'forage', id: record.id, rev: record.rev };
      const removed = await tried(removal);
      if (removed === null) await ada.call(contract.saveRecords, save(removal));
      return { added: mine !== null, seen, removed: removed !== null };
    };
    for (const each of sites)
      for (const other of plants) {
        const sees = site.see.includes(each) && plant.see.includes(other);
        const ties = sees && (site.change.includes(each) || plant.change.includes(other));
        expect(await trial(each, other), `${each} and ${other}`).toEqual({ added: ties, seen: sees, removed: ties });
      }
  });

  test('who adds a record can tie it to what they see, and no record that was there before', async () => {
    const who = await it.person('Cuth Adds');
    await it.server.people.join(app.id, who.id, 'member', [roleOf('sites', 3), roleOf('plants', 1)]);
    const withPair = (plant: number): readonly Write[] => [
      { kind: 'add', table: 'sites', as: 'record', values: { sites_name: 'New' } },
      { kind: 'add', table: 'forage', as: 'pair', values: { f_site: { added: 'record' }, f_plant: plant } },
    ];
    const hidden = await who.refused(contract.saveRecords, save(...withPair(2)));
    expect(hidden.body.message).toContain("Plant refers to a record that doesn't exist or that you don't have access to");
    const saved = await who.call(contract.saveRecords, save(...withPair(1)));
    expect(saved.records).toHaveLength(2);
    expect((await who.refused(contract.saveRecords, save(pair('Marsh', 'Heather')))).body.code).toBe('forbidden');
    // A pair between the new record and one that exists does not let tie two that exist, in the same save either.
    expect((await who.refused(contract.saveRecords, save(...withPair(1), { ...pair('Marsh', 'Heather'), as: 'other' } as Write))).body.code).toBe('forbidden');
  });
});

test('a formula over a link speaks of the records that its reader sees', async () => {
  await ada.call(contract.saveRecords, save(pair('Marsh', 'Heather'), { ...pair('Marsh', 'Lime'), as: 'two' } as Write));
  const who = await it.person('Dunstan Sees');
  await it.server.people.join(app.id, who.id, 'member', [roleOf('sites', 2), roleOf('plants', 1)]);
  const shown = async (caller: Caller) =>
    (await caller.call(contract.readPage, { params: { app: app.id, table: 'sites' } })).records.find((record) => record.values['sites_name'] === 'Marsh')
      ?.values['sites_all'];
  expect(await shown(ada)).toBe('Heather, Lime');
  expect(await shown(who)).toBe('Heather');
  expect(await pairsOf(ada, 'plants', 'Lime')).toEqual(['Marsh']);
});

test('a pair is there once, and goes with either of its records and comes back with it', async () => {
  const twice = await ada.refused(contract.saveRecords, save(pair('Marsh', 'Lime')));
  expect(twice.body.issues.map((issue) => issue.message)).toEqual(['Another record has the same Apiary and Plant already']);
  const open = await ada.call(contract.readRecord, { params: { app: app.id, table: 'plants', id: 2 } });
  const key = saveKey();
  await ada.call(contract.saveRecords, {
    params: { app: app.id },
    body: { key, writes: [{ kind: 'remove', table: 'plants', id: 2, rev: open.record.rev }] },
  });
  expect(await pairsOf(ada, 'sites', 'Marsh')).toEqual(['Heather']);
  const { effects } = await ada.call(contract.takeBackSave, { params: { app: app.id, save: key }, body: { key: saveKey(), dry: false } });
  expect(effects.map((effect) => `${effect.kind} ${effect.table}`).sort()).toEqual(['restore forage', 'restore plants']);
  expect([...(await pairsOf(ada, 'sites', 'Marsh'))].sort()).toEqual(['Heather', 'Lime']);
});

test('who can remove a record, and change none, removes its pairs with it', async () => {
  const writes: readonly Write[] = [
    { kind: 'add', table: 'plants', as: 'record', values: { plants_name: 'Borage' } },
    { kind: 'add', table: 'forage', as: 'pair', values: { f_site: 1, f_plant: { added: 'record' } } },
  ];
  const { records } = await ada.call(contract.saveRecords, save(...writes));
  const plant = records.find((record) => record.table === 'plants');
  app = await ada.call(contract.changeDesign, {
    params: { app: app.id },
    body: {
      version: app.version,
      changes: [
        {
          kind: 'put',
          part: 'role',
          value: {
            id: 'weeder',
            name: 'Weeder',
            description: '',
            everything: false,
            menu: [],
            grants: [grantOf('g_weed', 'plants', { remove: true }), grantOf('g_weed_sites', 'sites')],
          },
        },
      ],
    },
  });
  const who = await it.person('Edda Weeds');
  await it.server.people.join(app.id, who.id, 'member', ['weeder']);
  expect(await pairsOf(who, 'sites', 'Hillfoot')).toEqual(['Borage']);
  await who.call(contract.saveRecords, save({ kind: 'remove', table: 'plants', id: plant?.id ?? 0, rev: 1 }));
  expect(await pairsOf(ada, 'sites', 'Hillfoot')).toEqual([]);
});

test('two people who tie different records to one at the same time are not in each other’s way', async () => {
  const both = await Promise.all([pair('Quarry', 'Heather'), pair('Quarry', 'Clover')].map((write) => ada.call(contract.saveRecords, save(write))));
  expect(both).toHaveLength(2);
  expect([...(await pairsOf(ada, 'sites', 'Quarry'))].sort()).toEqual(['Clover', 'Heather']);
});

test('a table that is removed takes the pairs with it, and an undo brings both back', async () => {
  const before = [...(await pairsOf(ada, 'sites', 'Quarry'))].sort();
  expect(before).toHaveLength(2);
  const changes: readonly DesignChange[] = [
    { kind: 'remove_field', table: 'sites', field: 'sites_all' },
    { kind: 'remove', part: 'table', id: 'plants' },
  ];
  app = await ada.call(contract.changeDesign, { params: { app: app.id }, body: { version: app.version, changes: [...changes], acceptLoss: true } });
  expect(app.design.tables.map((each) => each.id)).toEqual(['sites']);
  app = await ada.call(contract.undoDesign, { params: { app: app.id }, body: { version: app.version, direction: 'undo', acceptLoss: true } });
  expect([...(await pairsOf(ada, 'sites', 'Quarry'))].sort()).toEqual(before);
});

test('lists tell the names of what belongs to a record, and their search finds it by them, as far as the person sees both', async () => {
  const site = 'Listed site';
  await ada.call(
    contract.saveRecords,
    save(
      { kind: 'add', table: 'sites', as: 's', values: { sites_name: site } },
      { kind: 'add', table: 'plants', as: 'p', values: { plants_name: 'Sainfoin' } },
      { kind: 'add', table: 'forage', as: 'f', values: { f_site: { added: 's' }, f_plant: { added: 'p' } } },
    ),
  );
  const found = async (who: Caller, search: string) =>
    (await who.call(contract.readPage, { params: { app: app.id, table: 'sites' }, query: { search } })).records.map((record) => [
      record.values['sites_name'],
      record.values['r_forage'],
    ]);
  expect(await found(ada, 'sainf')).toEqual([[site, 'Sainfoin']]);
  expect(await found(ada, 'listed')).toEqual([[site, 'Sainfoin']]);
  // Who sees no plants gets neither the names nor a record by them.
  const who = await it.person('Una Wray');
  await it.server.people.join(app.id, who.id, 'member', [roleOf('sites', 2)]);
  expect(await found(who, 'listed')).toEqual([[site, undefined]]);
  expect(await found(who, 'sainf')).toEqual([]);
});
