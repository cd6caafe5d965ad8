import { contract, type Automation, type OpenApp } from '@bibliona/core';
import fc from 'fast-check';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { field, makeApp, saveKey, table, testServer, type Caller, type TestServer } from './support.js';

/** Random automations that set one another off, against the same ones played through in memory. */
const names = ['a', 'b', 'c'] as const;
type Name = (typeof names)[number];
type Values = Readonly<Record<Name, number>>;

interface Formula {
  readonly text: string;
  readonly of: (values: Values) => number;
}
interface Played {
  readonly on: 'added' | 'changed';
  readonly fields: readonly Name[];
  readonly above: { readonly field: Name; readonly than: number } | null;
  readonly isOn: boolean;
  readonly steps: readonly { readonly field: Name; readonly formula: Formula }[];
}

const name = fc.constantFrom(...names);
const formula: fc.Arbitrary<Formula> = fc.oneof(
  fc.integer({ min: 0, max: 3 }).map((n): Formula => ({ text: String(n), of: () => n })),
  name.map((each): Formula => ({ text: `${each} + 1`, of: (values) => values[each] + 1 })),
  fc.tuple(name, name).map(([each, other]): Formula => ({
    text: `if ${each} > ${other} then ${each} - ${other} else ${other}`,
    of: (values) => (values[each] > values[other] ? values[each] - values[other] : values[other]),
  })),
);
const played: fc.Arbitrary<Played> = fc.record({
  on: fc.constantFrom('added', 'changed', 'changed'),
  fields: fc.uniqueArray(name, { maxLength: 2 }),
  above: fc.option(fc.record({ field: name, than: fc.integer({ min: -1, max: 4 }) }), { freq: 3 }),
  isOn: fc.integer({ min: 0, max: 5 }).map((n) => n > 0),
  steps: fc.array(fc.record({ field: name, formula }), { minLength: 1, maxLength: 3 }),
});

const automationOf = (item: Played, i: number): Automation => ({
  id: `au_${i}`,
  name: `Automation ${i}`,
  description: '',
  section: '',
  isOn: item.isOn,
  table: 'sums',
  on: item.on,
  fields: item.on === 'changed' ? item.fields.map((each) => `s_${each}`) : [],
  moves: [],
  condition: item.above === null ? '' : `${item.above.field} > ${item.above.than}`,
  steps: item.steps.map((step, n) => ({ kind: 'change', id: `st_${n}`, values: [{ field: `s_${step.field}`, itself: false, expression: step.formula.text }] })),
});

interface Event {
  readonly kind: 'added' | 'changed';
  readonly fields: readonly Name[];
  readonly after: readonly number[];
}

/** What is left of the values, and how often each has run. */
function play(all: readonly Played[], start: Values, first: Event): { readonly values: Values; readonly runs: readonly number[] } {
  let values = start;
  const runs = all.map(() => 0);
  const open: Event[] = [first];
  for (let event = open.shift(); event !== undefined; event = open.shift()) {
    const caused: Event[] = [];
    for (const [i, item] of all.entries()) {
      const { kind, fields, after } = event;
      const isMeant =
        item.on === 'added' ? kind === 'added' : kind === 'changed' && fields.some((each) => item.fields.length === 0 || item.fields.includes(each));
      if (!item.isOn || !isMeant || after.includes(i) || (item.above !== null && values[item.above.field] <= item.above.than)) continue;
      runs[i] = (runs[i] ?? 0) + 1;
      for (const step of item.steps) {
        const next = step.formula.of(values);
        if (next === values[step.field]) continue;
        values = { ...values, [step.field]: next };
        caused.push({ kind: 'changed', fields: [step.field], after: [...after, i] });
      }
    }
    open.unshift(...caused);
  }
  return { values, runs };
}

let it: TestServer;
let ada: Caller;
let app: OpenApp;
beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Wren');
  app = await makeApp(ada, 'Together', [table('sums', 'Sums', [...names.map((each) => field('whole', `s_${each}`, each)), field('text', 's_note', 'Note')])]);
});
afterAll(() => it.close());

const stored = (values: Values) => Object.fromEntries(names.map((each) => [`s_${each}`, values[each]]));
const save = async (write: object): Promise<{ id: number; rev: number }> => {
  const { records } = await ada.call(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes: [write] } });
  return records[0] ?? { id: 0, rev: 0 };
};

test('automations that set one another off come to the same as played through in memory, and come to an end', { timeout: 120_000 }, async () => {
  const small = fc.integer({ min: 0, max: 4 });
  const values = fc.record({ a: small, b: small, c: small });
  const scenes = fc.sample(fc.tuple(fc.array(played, { minLength: 1, maxLength: 5 }), values, values), { numRuns: 40, seed: 20_261_123 });
  let ran = 0;
  for (const [all, start, edit] of scenes) {
    const gone = app.design.automations.map((automation) => ({ kind: 'remove', part: 'automation', id: automation.id }) as const);
    const put = all.map((each, i) => ({ kind: 'put', part: 'automation', value: automationOf(each, i) }) as const);
    app = await ada.call(contract.changeDesign, { params: { app: app.id }, body: { version: app.version, changes: [...gone, ...put] } });
    await it.sql('DELETE FROM bibliona.run');
    const counted = async (): Promise<number[]> => {
      const rows = await it.sql<{ id: string; n: number }>(`SELECT automation_id AS id, count(*)::int AS n FROM bibliona.run GROUP BY 1`);
      return all.map((_, i) => rows.find((row) => row.id === `au_${i}`)?.n ?? 0);
    };
    const scene = JSON.stringify([all.map(automationOf), start, edit]);
    const added = await save({ kind: 'add', table: 'sums', as: 's', values: stored(start) });
    const first = play(all, start, { kind: 'added', fields: [...names], after: [] });
    const [row] = await it.sql<Values & { rev: number }>(`SELECT a, b, c, rev FROM "app_${app.id}".sums WHERE id = $1`, [added.id]);
    expect({ a: Number(row?.a), b: Number(row?.b), c: Number(row?.c), rev: row?.rev }, scene).toEqual({ ...first.values, rev: added.rev });
    const changed = await save({ kind: 'change', table: 'sums', id: added.id, rev: added.rev, values: { ...stored(edit), s_note: 'edited' } });
    const fields = names.filter((each) => edit[each] !== first.values[each]);
    // The note has changed too, which triggers what waits for any change.
    const second = play(all, edit, { kind: 'changed', fields: [...fields, 'note' as Name], after: [] });
    const [after] = await it.sql<Values & { rev: number }>(`SELECT a, b, c, rev FROM "app_${app.id}".sums WHERE id = $1`, [added.id]);
    expect({ a: Number(after?.a), b: Number(after?.b), c: Number(after?.c), rev: after?.rev }, scene).toEqual({ ...second.values, rev: changed.rev });
    expect(await counted(), scene).toEqual(all.map((_, i) => (first.runs[i] ?? 0) + (second.runs[i] ?? 0)));
    ran += [...first.runs, ...second.runs].reduce((sum, run) => sum + run, 0);
  }
  // Most of them do run, or this would prove nothing.
  expect(ran).toBeGreaterThan(80);
});
