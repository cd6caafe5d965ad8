import {
  contract,
  exportFormatNames,
  endingOf,
  fieldKindNames,
  fieldKinds,
  FieldPlan,
  kindOf,
  plainReading,
  signatureIn,
  tableOf,
  type AppDesign,
  type DesignChange,
  type HeldFile,
  type NamedPerson,
  type OpenApp,
  type Value,
} from '@bibliona/core';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { makeApp, readyMaker, saveKey, table, testServer, type Caller, type TestServer } from './support.js';
import { rowsOf } from './file-rows.js';

/**
 * Every kind of field, with every set of its settings, in a real database: what is saved is read, sorted, exported and kept
 * by the history as it was. A new kind is held to this before it has a test of its own.
 */
const seed = Number(process.env['EXPRESSION_SEED'] ?? Date.now() % 100_000);
const records = 12;
const plans = fieldKindNames
  .filter((kind) => kind !== 'reference' && fieldKinds[kind].column !== null && !('isGiven' in fieldKinds[kind]))
  .flatMap((kind) =>
    fieldKinds[kind].sample.settings.map((settings, i) => FieldPlan.parse({ kind, id: `f_${kind}_${i}`, name: `${fieldKinds[kind].word} ${i}`, ...settings })),
  );
/** The values of the records, each field's own; the last record has none. */
const valuesOf = (plan: FieldPlan): readonly Value[] => {
  const arbitrary = fc.uniqueArray(kindOf(plan).sample.values(fc, plan), { minLength: 1, maxLength: records - 1 });
  const [some = []] = fc.sample(arbitrary, { seed, numRuns: 1 });
  // A unique field has each of its values once; any other can have them again.
  return Array.from({ length: records }, (_, i) => (i === records - 1 ? null : plan.unique ? (some[i] ?? null) : (some[i % some.length] ?? null)));
};

let it: TestServer;
let ada: Caller;
let app: OpenApp;
const all = new Map(plans.map((plan) => [plan.id, valuesOf(plan)]));
beforeAll(async () => {
  console.log(`kinds of field, seed ${seed}`);
  it = await testServer();
  ada = await it.person('Ada');
  app = await makeApp(ada, 'Kinds', [
    table('things', 'Things', plans),
    // No field is in what records are called, so that each can become of any kind.
    { kind: 'change_table', table: 'things', caption: '"Thing " + string(record number())' },
  ]);
  await uploaded(plans.flatMap((plan) => (all.get(plan.id) ?? []).flatMap((value) => kindOf(plan).files?.in(value) ?? [])));
  await joined(plans.flatMap((plan) => (all.get(plan.id) ?? []).flatMap((value) => kindOf(plan).people?.(value) ?? [])));
  const writes = Array.from({ length: records }, (_, i) => ({
    kind: 'add',
    table: 'things',
    as: `r${i}`,
    values: Object.fromEntries(plans.map((plan) => [plan.id, all.get(plan.id)?.[i] ?? null])),
  }));
  await ada.call(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes } });
});
afterAll(() => it.close());

/** As if Ada had uploaded these files. */
async function uploaded(files: readonly HeldFile[]): Promise<void> {
  for (const { hash, size, name } of files) {
    await it.server.database.query(
      'INSERT INTO bibliona.file (hash, size, ending, has_preview, is_stored) VALUES ($1, $2, $3, false, true) ON CONFLICT DO NOTHING',
      [hash, size, endingOf(name)],
    );
    await it.server.database.query(
      `INSERT INTO bibliona.file_use (app_id, hash, person_id) SELECT $1, $2, id FROM bibliona.person WHERE name = 'Ada' ON CONFLICT DO NOTHING`,
      [app.id, hash],
    );
  }
}

/** As if these people had joined the app. */
async function joined(people: readonly NamedPerson[]): Promise<void> {
  for (const { name, mail } of people) {
    await it.server.database.query(`INSERT INTO bibliona.person (email, name, password_hash) VALUES ($1, $2, '') ON CONFLICT DO NOTHING`, [mail, name]);
    await it.server.database.query(
      `INSERT INTO bibliona.app_person (app_id, person_id, role) SELECT $1, id, 'member' FROM bibliona.person WHERE email = $2 ON CONFLICT DO NOTHING`,
      [app.id, mail],
    );
  }
}

const at = () => ({ app: app.id, table: 'things' });
const page = async (query: Record<string, string> = {}, who = ada): Promise<readonly { readonly id: number; readonly values: Record<string, Value> }[]> =>
  (await who.call(contract.readPage, { params: at(), query: { limit: '50', ...query } })).records;

/** What says the same to each field is asked once. */
const statistics = once(() => ada.call(contract.readStatistics, { params: at() }));
const saved = Object.fromEntries(
  exportFormatNames.map((format) => [format, once(async () => rowsOf((await ada.download(contract.exportRecords, at(), { format })).bytes))]),
);
function once<T>(ask: () => Promise<T>): () => Promise<T> {
  let answer: Promise<T> | null = null;
  return () => (answer ??= ask());
}

/** Signatures are dated when they are saved: here as those of the samples. */
const timeless = (value: Value): Value =>
  typeof value === 'string' && signatureIn(value) !== null ? value.replace(/[^\n]*$/u, '2026-09-14T08:30:00Z') : value;

describe.each(plans.map((plan) => [plan.id, plan] as const))('%s', (id, plan) => {
  test('is read as it was saved, and kept in the history', async () => {
    const values = all.get(id) ?? [];
    expect((await page()).map((record) => timeless(record.values[id] ?? null))).toEqual(values);
    const record = values.findIndex((value) => value !== null) + 1;
    const { record: open } = await ada.call(contract.readRecord, { params: { ...at(), id: record } });
    const before = open.values[id] ?? null;
    const writes = [{ kind: 'change', table: 'things', id: record, rev: open.rev, values: { [id]: null } }];
    await ada.call(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes } });
    const [last] = (await ada.call(contract.readHistory, { params: { ...at(), id: record } })).entries;
    expect(JSON.stringify(last)).toContain(JSON.stringify(before));
    const back = [{ kind: 'change', table: 'things', id: record, rev: open.rev + 1, values: { [id]: before } }];
    await ada.call(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes: back } });
    expect(timeless((await page())[record - 1]?.values[id] ?? null)).toEqual(timeless(before));
  });

  test('is sorted both ways page by page, empty values last', async () => {
    const sorted = async (direction: 'up' | 'down'): Promise<readonly Value[]> => {
      const values: Value[] = [];
      let after: object | null = null;
      do {
        const query: Record<string, string> = { limit: '5', sort: id, direction, ...(after === null ? {} : { after: JSON.stringify(after) }) };
        const answer = await ada.call(contract.readPage, { params: at(), query });
        values.push(...answer.records.map((record) => record.values[id] ?? null));
        after = answer.next;
      } while (after !== null);
      return values;
    };
    const [up, down] = [await sorted('up'), await sorted('down')];
    const filled = (values: readonly Value[]): readonly Value[] => values.filter((value) => value !== null);
    for (const values of [up, down]) {
      expect(values).toHaveLength(records);
      expect(values.slice(filled(values).length).every((value) => value === null)).toBe(true);
      expect([...values].map((value) => JSON.stringify(timeless(value))).sort()).toEqual([...(all.get(id) ?? [])].map((value) => JSON.stringify(value)).sort());
    }
    expect(filled(down)).toEqual([...filled(up)].reverse());
    // Skipping to a place is the same as reading up to it, among the empty values too.
    for (const direction of ['up', 'down'] as const)
      for (const skip of [1, 5, records - 1, records, records + 5]) {
        const query = { limit: '50', sort: id, direction };
        const { skipped, next } = await ada.call(contract.readPlace, { params: at(), query: { sort: id, direction, skip } });
        expect(skipped).toBe(Math.min(skip, records));
        const rest = await page({ ...query, after: JSON.stringify(next) });
        expect(rest.map((record) => record.values[id] ?? null)).toEqual((direction === 'up' ? up : down).slice(skip));
      }
  });

  test('is counted in the proof', async () => {
    const values = all.get(id) ?? [];
    const { fields } = await statistics();
    expect(fields.find((field) => field.field === id)).toMatchObject({ rows: records, filled: values.filter((value) => value !== null).length });
  });

  test.each(exportFormatNames)('is saved as %s so that an import reads it again', async (format) => {
    const values = all.get(id) ?? [];
    const [heads = [], ...rows] = (await saved[format]?.()) ?? [];
    const kind = kindOf(plan);
    const { reader } = kind.cells;
    if (reader === null) return;
    const read = rows.map((row): unknown => {
      // A text that a spreadsheet would calculate has an apostrophe before it.
      const written = row[heads.indexOf(plan.name)] ?? '';
      const cell = format === 'csv' ? written.replace(/^'(?='*[=+\-@\t\r])/u, '') : written;
      const printed = cell === '' ? null : reader(plan, { ...plainReading, zone: app.design.timeZone }, null)(cell);
      return typeof printed === 'string' ? kind.cells.value(printed) : printed;
    });
    // A formatted text comes back as its words.
    const told = (all: readonly unknown[]): readonly unknown[] =>
      plan.kind === 'rich_text' ? all.map((value) => kind.value.exported(value as Value, plan)) : all;
    expect(told(read)).toEqual(told(values));
  });
});

/** A field as one of another kind, under its name. */
const becoming = (plan: FieldPlan, other: FieldPlan): FieldPlan => ({ ...other, id: plan.id, name: plan.name, unique: false, default: null }) as FieldPlan;
const changing = (fields: readonly FieldPlan[]): readonly DesignChange[] => fields.map((each) => ({ kind: 'change_field', table: 'things', field: each }));

let saidInAll = 0;
// All fields change in one step, each to a kind that is so many further on: in all steps together each has become every other.
test.each(plans.slice(1).map((_, i) => i + 1))(
  'every field becomes one of another kind, %i on, and it is said first which values would not survive',
  async (further) => {
    const pairs = plans.map((plan, i) => [plan, plans[(i + further) % plans.length] ?? plan] as const).filter(([plan, other]) => plan.kind !== other.kind);
    const changes = changing(pairs.map(([plan, other]) => becoming(plan, other)));
    const { steps } = await ada.call(contract.previewChanges, { params: { app: app.id }, body: { version: app.version, changes } });
    const lost = steps.filter((step) => step.effect === 'loses' && step.found !== null).map((step) => step.description);
    for (const [plan, other] of pairs) {
      const isSaid = lost.some((says) => says.startsWith(`${plan.name} of `) || says.startsWith(`Values of ${plan.name} are`));
      saidInAll += Number(isSaid);
      // What a file is called is less than the file, and an address on one line less than its parts.
      if (fieldKinds[other.kind].column?.takesEveryText === true && kindOf(plan).column?.saysLess !== true)
        expect([plan.name, other.kind, isSaid]).toEqual([plan.name, other.kind, false]);
    }
  },
);

test('of many it is said', () => expect(saidInAll).toBeGreaterThan(plans.length * 5));

test.each([
  [1, 'at once'],
  [2, 'made ready beside the work'],
])('every field becomes one of another kind, and an undo brings every value back, %i, %s', async (time, how) => {
  const values = await page();
  const maker = how === 'at once' ? null : await readyMaker(it);
  const builder = maker?.as(ada) ?? ada;
  const become = plans.map((plan) => {
    const others = plans.filter((each) => each.kind !== plan.kind && each.kind !== 'file' && each.kind !== 'image');
    const [other = plan] = fc.sample(fc.constantFrom(...others), { seed: seed + time + plans.indexOf(plan), numRuns: 1 });
    return becoming(plan, other);
  });
  app = await builder.call(contract.changeDesign, { params: { app: app.id }, body: { version: app.version, changes: changing(become), acceptLoss: true } });
  expect(tableOf(app.design as AppDesign, 'things').fields.map((each) => each.kind)).toEqual(become.map((each) => each.kind));
  expect((await page({}, builder)).length).toBe(records);
  app = await builder.call(contract.undoDesign, { params: { app: app.id }, body: { version: app.version, direction: 'undo', acceptLoss: true } });
  const now = await page({}, builder);
  await maker?.close();
  for (const { id, kind } of become)
    expect([id, kind, now.map((record) => record.values[id] ?? null)]).toEqual([id, kind, values.map((record) => record.values[id] ?? null)]);
});
