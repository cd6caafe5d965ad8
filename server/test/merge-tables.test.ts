/** Two tables become one with all their records, and two again. */
import { contract, grantOf, proposedMerge, type AppDesign, type DesignChange, type OpenApp, type Rearrangement } from '@bibliona/core';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { rearranging } from './rearranging.js';
import { field, makeApp, saveKey, table, testServer, type Caller, type TestServer } from './support.js';

let it: TestServer;
let ada: Caller & { id: number };
beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Roke');
});
afterAll(() => it.close());
const { told, rearrange, refusal, step, rows, save } = rearranging(
  () => it,
  () => ada,
);

const related = (parent: string, child: string, fieldName: string, childrenName: string): DesignChange => ({
  kind: 'add_relationship',
  id: `r_${child}`,
  parent,
  child,
  fieldId: `${child}_up`,
  fieldName,
  childrenName,
  required: false,
  whenParentRemoved: 'refuse',
});
const yard: readonly DesignChange[] = [
  table('apiaries', 'Apiaries', [field('text', 'a_name', 'Name', { required: true })]),
  table('keepers', 'Keepers', [
    field('text', 'k_name', 'Name', { required: true }),
    field('mail_address', 'k_mail', 'Mail', { unique: true }),
    field('running_number', 'k_number', 'Number', { pattern: 'K-{00}', start: 1, step: 1, yearly: false, unique: true }),
    field('text', 'k_phone', 'Phone'),
  ]),
  table('helpers', 'Helpers', [
    field('text', 'h_name', 'Name', { required: true }),
    field('mail_address', 'h_mail', 'Mail'),
    field('decimal', 'h_rate', 'Day rate'),
  ]),
  table('visits', 'Visits', [field('text', 'v_about', 'About', { required: true })]),
  table('letters', 'Letters', [field('text', 'l_about', 'About', { required: true })]),
  related('apiaries', 'helpers', 'Apiary', 'Helpers'),
  related('helpers', 'visits', 'Helper', 'Visits'),
  related('keepers', 'letters', 'Keeper', 'Letters'),
  {
    kind: 'add_link',
    id: 'abroad',
    name: 'Helpers abroad',
    form: 'form_abroad',
    list: 'list_abroad',
    together: 'abroad_together',
    sides: [
      { table: 'helpers', relationship: 'abroad_h', shownAs: 'Far apiaries', field: 'abroad_helper', fieldName: 'Helper' },
      { table: 'apiaries', relationship: 'abroad_a', shownAs: 'Far helpers', field: 'abroad_apiary', fieldName: 'Apiary' },
    ],
  },
  { kind: 'add_field', table: 'helpers', field: field('formula', 'h_told', 'Told', { expression: 'Name + ": " + string(count(Visits))' }) },
];
function planFor(app: { readonly design: unknown }, from = 'helpers', into = 'keepers'): Extract<Rearrangement, { kind: 'merge_tables' }> {
  let made = 0;
  return proposedMerge(app.design as AppDesign, from, into, (kind) => `m_${kind}${(made += 1)}`);
}
const add = (table: string, as: string, values: object) => ({ kind: 'add', table, as, values });
const fill = (app: OpenApp) =>
  save(app, [
    add('apiaries', 'a1', { a_name: 'Brackmoor' }),
    add('keepers', 'k1', { k_name: 'Bede', k_mail: 'bede@honey.example', k_phone: '11' }),
    add('keepers', 'k2', { k_name: 'Cuthbert' }),
    add('helpers', 'h1', { h_name: 'Dunstan', h_rate: '80', helpers_up: { added: 'a1' } }),
    add('helpers', 'h2', { h_name: 'Edith', h_mail: 'edith@honey.example' }),
    add('helpers', 'h3', { h_name: 'Frith' }),
    add('visits', 'v1', { v_about: 'Swarm', visits_up: { added: 'h2' } }),
    add('visits', 'v2', { v_about: 'Feed', visits_up: { added: 'h2' } }),
    add('visits', 'v3', { v_about: 'Alone' }),
    add('abroad', 'p1', { abroad_helper: { added: 'h3' }, abroad_apiary: { added: 'a1' } }),
    add('letters', 'l1', { l_about: 'Thanks', letters_up: { added: 'k2' } }),
  ]);
const helpers =
  'SELECT h.name, h.mail, h.day_rate::text AS rate, a.name AS apiary FROM ~.helpers AS h LEFT JOIN ~.apiaries AS a ON a.id = h.apiary ORDER BY h.name';
const visits = 'SELECT v.about, h.name FROM ~.visits AS v LEFT JOIN ~.helpers AS h ON h.id = v.helper ORDER BY v.about DESC';

const abroad = 'SELECT h.name, a.name AS apiary FROM ~.helpers_abroad AS p JOIN ~.helpers AS h ON h.id = p.helper JOIN ~.apiaries AS a ON a.id = p.apiary';

describe('two tables become one', () => {
  test('records, what they refer to and what refers to them; numbers go on', async () => {
    const app = await makeApp(ada, 'One table', yard);
    await fill(app);
    expect(await told(app, planFor(app))).toEqual(['3 records of Helpers become records of Keepers.']);
    const merged = await rearrange(app, planFor(app));
    expect(
      await rows(
        merged,
        'SELECT k.name, k.kind, k.number, k.mail, k.phone, k.day_rate::text AS rate, a.name AS apiary, k.created_by::int AS by FROM ~.keepers AS k LEFT JOIN ~.apiaries AS a ON a.id = k.apiary ORDER BY k.id',
      ),
    ).toEqual([
      { name: 'Bede', kind: 'keepers', number: 'K-01', mail: 'bede@honey.example', phone: '11', rate: null, apiary: null, by: ada.id },
      { name: 'Cuthbert', kind: 'keepers', number: 'K-02', mail: null, phone: null, rate: null, apiary: null, by: ada.id },
      { name: 'Dunstan', kind: 'helpers', number: 'K-03', mail: null, phone: null, rate: '80.00', apiary: 'Brackmoor', by: ada.id },
      { name: 'Edith', kind: 'helpers', number: 'K-04', mail: 'edith@honey.example', phone: null, rate: null, apiary: null, by: ada.id },
      { name: 'Frith', kind: 'helpers', number: 'K-05', mail: null, phone: null, rate: null, apiary: null, by: ada.id },
    ]);
    expect(await rows(merged, 'SELECT v.about, k.name FROM ~.visits AS v LEFT JOIN ~.keepers AS k ON k.id = v.helper_2 ORDER BY v.about DESC')).toEqual([
      { about: 'Swarm', name: 'Edith' },
      { about: 'Feed', name: 'Edith' },
      { about: 'Alone', name: null },
    ]);
    expect(
      await rows(
        merged,
        'SELECT k.name, a.name AS apiary FROM ~.helpers_abroad AS p JOIN ~.keepers AS k ON k.id = p.helper_2 JOIN ~.apiaries AS a ON a.id = p.apiary',
      ),
    ).toEqual([{ name: 'Frith', apiary: 'Brackmoor' }]);
    expect(merged.design.tables.find((each) => each.id === 'abroad')?.isLink).toBe(true);
    const [edith] = (await rows(merged, `SELECT id::int FROM ~.keepers WHERE name = 'Edith'`)) as { id: number }[];
    const { record } = await ada.call(contract.readRecord, { params: { app: app.id, table: 'keepers', id: edith!.id } });
    expect(record.values).toMatchObject({ h_told: 'Edith: 2' });
    // The next record takes the next number.
    await save(merged, [add('keepers', 'k', { k_name: 'Godric' })]);
    expect(await rows(merged, `SELECT number, kind, id::int > ${edith!.id} AS later FROM ~.keepers WHERE name = 'Godric'`)).toEqual([
      { number: 'K-06', kind: 'keepers', later: true },
    ]);
    const { entries } = await ada.call(contract.designLog, { params: { app: app.id } });
    expect(entries[0]?.description).toBe('Merged Helpers into Keepers');
  });

  test('undo makes them two again with what has changed since, and redo one', async () => {
    const app = await makeApp(ada, 'There and back', yard);
    await fill(app);
    const before = [await rows(app, helpers), await rows(app, visits), await rows(app, abroad), await rows(app, 'SELECT id, name FROM ~.helpers ORDER BY id')];
    const [edithWas] = (await rows(app, `SELECT id::int FROM ~.helpers WHERE name = 'Edith'`)) as { id: number }[];
    const commentsOf = async (table: string, id: number) =>
      (await ada.call(contract.readComments, { params: { app: app.id, table, id } })).comments.map((each) => each.text);
    await ada.call(contract.addComment, { params: { app: app.id, table: 'helpers', id: edithWas!.id }, body: { key: saveKey(), text: 'Has a van' } });
    const merged = await rearrange(app, planFor(app));
    const [edithIs] = (await rows(merged, `SELECT id::int FROM ~.keepers WHERE name = 'Edith'`)) as { id: number }[];
    expect(await commentsOf('keepers', edithIs!.id)).toEqual(['Has a van']);
    const undone = await step(merged, 'undo');
    expect(await commentsOf('helpers', edithWas!.id)).toEqual(['Has a van']);
    expect(undone.design).toEqual(app.design);
    expect([
      await rows(undone, helpers),
      await rows(undone, visits),
      await rows(undone, abroad),
      await rows(undone, 'SELECT id, name FROM ~.helpers ORDER BY id'),
    ]).toEqual(before);
    expect(await rows(undone, 'SELECT name FROM ~.keepers ORDER BY id')).toEqual([{ name: 'Bede' }, { name: 'Cuthbert' }]);

    const again = await step(undone, 'redo');
    expect(again.design).toEqual(merged.design);
    const all = (await rows(again, 'SELECT id::int, rev, name FROM ~.keepers')) as { id: number; rev: number; name: string }[];
    const of = (name: string) => all.find((each) => each.name === name)!;
    const visit = (await rows(again, `SELECT id::int, rev FROM ~.visits WHERE about = 'Feed'`)) as { id: number; rev: number }[];
    const { field: by } = planFor(app).children[0]!;
    const { field: mark } = planFor(app).mark;
    // Meanwhile: one is added, one removed, one becomes a keeper and one a helper, and a visit is somebody else's.
    await save(again, [
      add('keepers', 'n', { k_name: 'Hilda', [mark]: 'helpers' }),
      { kind: 'remove', table: 'keepers', id: of('Frith').id, rev: of('Frith').rev },
      { kind: 'change', table: 'keepers', id: of('Dunstan').id, rev: of('Dunstan').rev, values: { [mark]: 'keepers' } },
      { kind: 'change', table: 'keepers', id: of('Bede').id, rev: of('Bede').rev, values: { [mark]: 'helpers', k_name: 'Bede the Elder' } },
      { kind: 'change', table: 'visits', id: visit[0]!.id, rev: visit[0]!.rev, values: { [by]: of('Cuthbert').id } },
      add('visits', 'v', { v_about: 'Talk', [by]: { added: 'n' } }),
      add('letters', 'l', { l_about: 'Sorry', letters_up: of('Edith').id }),
    ]);
    const { body } = await ada.refused(contract.undoDesign, { params: { app: app.id }, body: { version: again.version, direction: 'undo' } });
    const { steps } = body.details as { readonly steps: readonly { readonly found: string | null }[] };
    expect(steps.flatMap((each) => each.found ?? [])).toEqual([
      '3 records of Keepers with the Kind Helpers become records of Helpers.',
      '1 record of Visits refers to a record of the other table, and loses its Helper.',
      '1 record of Letters refers to a record of the other table, and loses its Keeper.',
      '1 record that goes back to Helpers has values in fields that only Keepers has: Phone. It loses them.',
    ]);
    const back = await step(again, 'undo');
    expect(await rows(back, 'SELECT name, mail FROM ~.helpers ORDER BY name')).toEqual([
      { name: 'Bede the Elder', mail: 'bede@honey.example' },
      { name: 'Edith', mail: 'edith@honey.example' },
      { name: 'Hilda', mail: null },
    ]);
    expect(await rows(back, 'SELECT name FROM ~.keepers ORDER BY name')).toEqual([{ name: 'Cuthbert' }, { name: 'Dunstan' }]);
    expect(await rows(back, visits)).toEqual([
      { about: 'Talk', name: 'Hilda' },
      { about: 'Swarm', name: 'Edith' },
      { about: 'Feed', name: null },
      { about: 'Alone', name: null },
    ]);
    expect(await rows(back, 'SELECT l.about, k.name FROM ~.letters AS l LEFT JOIN ~.keepers AS k ON k.id = l.keeper ORDER BY 1')).toEqual([
      { about: 'Sorry', name: null },
      { about: 'Thanks', name: 'Cuthbert' },
    ]);
  });

  test('whatever records hold, undo leaves them as they were', { timeout: 120_000 }, async () => {
    const trained = { ...related('keepers', 'helpers', 'Trained by', 'Trainees'), id: 'r_trained', fieldId: 'h_trained' } as DesignChange;
    let app = await makeApp(ada, 'Any records', [...yard, trained]);
    const helper = fc.record({
      name: fc.constantFrom('a', 'A', "o'c", ''),
      rate: fc.constantFrom(null, '0.00', '12.50'),
      keeper: fc.integer({ min: 0, max: 3 }),
    });
    const visitBy = fc.nat(8);
    const state = async (of: OpenApp): Promise<unknown> => [
      await rows(of, 'SELECT id, name, day_rate::text, trained_by FROM ~.helpers ORDER BY id'),
      await rows(of, 'SELECT about, helper FROM ~.visits ORDER BY about'),
      await rows(of, 'SELECT id, name, mail FROM ~.keepers ORDER BY id'),
    ];
    await fc.assert(
      fc.asyncProperty(fc.array(helper, { maxLength: 6 }), fc.array(visitBy, { maxLength: 6 }), async (all, by) => {
        for (const each of ['visits', 'helpers_abroad', 'helpers', 'letters', 'keepers']) await rows(app, `DELETE FROM ~.${each}`);
        await rows(app, `INSERT INTO ~.keepers (name) SELECT 'K' || n FROM generate_series(1, 3) AS n`);
        const schema = `"app_${app.id}"`;
        for (const { name, rate, keeper } of all)
          await it.sql(
            `INSERT INTO ${schema}.helpers (name, day_rate, trained_by) VALUES ($1, $2, (SELECT id FROM ${schema}.keepers WHERE name = 'K' || $3::text))`,
            [name, rate, keeper],
          );
        // The visit of a helper that there is none of is nobody's.
        for (const [i, to] of by.entries())
          await it.sql(`INSERT INTO ${schema}.visits (about, helper) VALUES ($1, (SELECT id FROM ${schema}.helpers ORDER BY id OFFSET $2 LIMIT 1))`, [
            String(i),
            to,
          ]);
        const was = await state(app);
        const merged = await rearrange(app, planFor(app));
        const [{ n, by: trainees }] = (await rows(merged, `SELECT count(*)::int AS n, count(trained_by)::int AS by FROM ~.keepers`)) as [
          { n: number; by: number },
        ];
        expect([n, trainees]).toEqual([all.length + 3, all.filter((each) => each.keeper > 0).length]);
        app = await step(merged, 'undo');
        expect(await state(app)).toEqual(was);
      }),
      { numRuns: 15 },
    );
  });

  test('is refused while a record can’t be where it goes, and nothing has changed', async () => {
    const app = await makeApp(ada, 'Refused', yard);
    await fill(app);
    await save(app, [add('helpers', 'h', { h_name: 'Bede again', h_mail: 'bede@honey.example' })]);
    const said = '1 value of Mail appears in more than one record (“bede@honey.example”). Change those records first.';
    expect(await told(app, planFor(app))).toContain(said);
    expect(await refusal(app, planFor(app))).toBe(said);
    const now = await ada.call(contract.openApp, { params: { app: app.id } });
    expect(now.design).toEqual(app.design);
    expect(await rows(app, 'SELECT count(*)::int AS n FROM ~.helpers')).toEqual([{ n: 4 }]);
    // Required there and left out here.
    const without = { ...planFor(app), carried: planFor(app).carried.filter((each) => each.to !== 'k_name') };
    expect(await refusal(app, without)).toBe('Name of Keepers is required. Say which field of Helpers it is, or make it optional first.');
  });

  test('a member sees and changes what they could before, and no more', async () => {
    const role: DesignChange = {
      kind: 'put',
      part: 'role',
      value: {
        id: 'yard',
        name: 'Yard',
        description: '',
        everything: false,
        menu: [],
        grants: [grantOf('g_yard', 'helpers', { add: true, change: true }), { ...grantOf('g_letters', 'letters'), change: true }],
      },
    };
    const app = await makeApp(ada, 'Members', [...yard, role]);
    await fill(app);
    const bea = await it.person('Bea Lune');
    await it.server.people.join(app.id, bea.id, 'member', ['yard'], {});
    const merged = await rearrange(app, planFor(app));
    const seen = await bea.call(contract.readPage, { params: { app: app.id, table: 'keepers' } });
    expect(seen.records.map((each) => each.values['k_name']).toSorted()).toEqual(['Dunstan', 'Edith', 'Frith']);
    expect(JSON.stringify(seen)).not.toMatch(/Bede|Cuthbert|"11"/u);
    const write = (values: object) => ({ params: { app: app.id }, body: { key: crypto.randomUUID(), writes: [add('keepers', 'n', values)] as never } });
    await bea.call(contract.saveRecords, write({ k_name: 'Ida', [planFor(app).mark.field]: 'helpers' }));
    await bea.refused(contract.saveRecords, write({ k_name: 'Ida', [planFor(app).mark.field]: 'keepers' }));
    expect(await rows(merged, `SELECT kind FROM ~.keepers WHERE name = 'Ida'`)).toEqual([{ kind: 'helpers' }]);
  });
});
