import {
  parseDesign,
  check,
  contract,
  evaluate,
  isReference,
  isStored,
  membersOf,
  NotAtHand,
  shown,
  tableOf,
  TooMuch,
  wants,
  written,
  type AppDesign,
  type DesignChange,
  type Field,
  type OpenApp,
  type OpenRecord,
  type RecordValue,
  type Value,
  type Write,
} from '@bibliona/core';
import fc from 'fast-check';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { gardens, valueOf as valuesFor } from '../../server/test/expressions/garden.js';
import { Sentences, type Kind } from '../../server/test/expressions/sentences.js';
import { field, makeApp, saveKey, testServer, type Caller, type TestServer } from '../../server/test/support.js';
import { draftSource, KnownRecords, OnlyWhenSaved } from '../../web/src/desk/record/draft-source.js';
import {
  draftOfRecord,
  emptyValues,
  referredName,
  typedOf,
  typedRecord,
  valueOf,
  writesOf,
  type ChildDraft,
  type RecordDraft,
  type TypedValues,
} from '../../web/src/desk/record/draft.js';
import { loadLanguage } from '../../web/src/state/language.js';

/**
 * What a form computes while it is filled in is what the server stores when it is saved. Formulas, conditions, records and
 * what is typed in them are random; rows are changed, added and removed.
 */
const [rounds, seed] = [Number(process.env['FORM_ROUNDS'] ?? 4), Number(process.env['FORM_SEED'] ?? 20_261_129)];
const kinds: readonly Kind[] = ['number', 'number', 'string', 'boolean', 'boolean', 'date', 'time', 'moment', 'duration', 'months'];
const formulasOf: Readonly<Record<string, number>> = { hives: 16, visits: 8 };

let it: TestServer;
let ada: Caller;
let bede: Caller & { readonly id: number };
beforeAll(async () => {
  it = await testServer();
  [ada, bede] = [await it.person('Ada Wren'), await it.person('Bede Lunn')];
  await loadLanguage();
});
afterAll(() => it.close());

/** Only the server can tell. */
const afterSaving = Symbol('after saving');
type Pick = <T>(of: fc.Arbitrary<T>) => T;

/** Formulas that are well-typed over a table, and do not change with the clock. */
function formulas(design: AppDesign, table: string, count: number, pick: Pick): readonly DesignChange[] {
  const sentences = new Sentences(design, pick);
  const made: DesignChange[] = [];
  while (made.length < count) {
    const expression = sentences.expression(pick(fc.constantFrom(...kinds)), table, pick(fc.integer({ min: 1, max: 3 })));
    if (/\b(?:now|today)\(/u.test(expression) || !check(expression, { design, table }, wants.plain).ok) continue;
    const n = made.length;
    made.push({ kind: 'add_field', table, field: field('formula', `${table}_f${n}`, `Worked out ${table} ${n}`, { expression }) });
  }
  return made;
}

const storedIn = (design: AppDesign, table: string): readonly Field[] =>
  tableOf(design, table).fields.filter((each) => isStored(each) && each.kind !== 'reference');

/** Some of the values typed anew, as far as people can type such values. */
function retyped(values: TypedValues, fields: readonly Field[], pick: Pick): TypedValues {
  const next: Record<string, TypedValues[string]> = { ...values };
  for (const each of fields) {
    if (!pick(fc.integer({ min: 0, max: 2 }).map((n) => n === 0))) continue;
    const typed = typedOf(each, pick(fc.option(valuesFor(each), { freq: 6 })));
    if (valueOf(each, typed).ok) next[each.id] = typed;
  }
  return next;
}

const childRows = 'r_visits';

function changed(design: AppDesign, draft: RecordDraft, apiaries: readonly number[], around: Parameters<typeof emptyValues>[2], pick: Pick): RecordDraft {
  const rows = (draft.children[childRows] ?? []).flatMap((row): ChildDraft[] => {
    const what = pick(fc.constantFrom('keep', 'change', 'change', 'remove'));
    return what === 'remove' ? [] : [what === 'keep' ? row : { ...row, values: retyped(row.values, storedIn(design, 'visits'), pick) }];
  });
  const begun = emptyValues(design, tableOf(design, 'visits'), around, {});
  const added = Array.from({ length: pick(fc.integer({ min: 0, max: 2 })) }, (_, i): ChildDraft => {
    const values = retyped({ ...begun, v_whole: String(i + 1) }, storedIn(design, 'visits'), pick);
    return { key: `new ${i}`, id: null, rev: 0, begun, values };
  });
  const parent = pick(fc.constantFrom(null, ...apiaries));
  const own = { ...retyped(draft.own, storedIn(design, 'hives'), pick), hives_up: parent === null ? null : { id: parent, caption: '' } };
  return { own, children: { ...draft.children, [childRows]: [...rows, ...added] } };
}

/** The draft with a part of its apiary typed anew, as a form does that changes it in place. */
function withApiary(design: AppDesign, draft: RecordDraft, apiary: OpenRecord, pick: Pick): RecordDraft {
  const { id, rev } = apiary.record;
  const start = typedRecord(tableOf(design, 'apiaries'), apiary.record);
  const values = retyped(start, storedIn(design, 'apiaries'), pick);
  return { ...draft, referred: { [referredName('apiaries', id)]: { table: 'apiaries', id, rev, start, values } } };
}

/** Sees and changes the hives and visits, but one field of them, and only some apiaries. */
const keeper = (design: AppDesign): DesignChange => {
  const grant = (table: string, more: object) => ({
    ...{ id: `g_${table}`, table, see: true, add: true, change: true, remove: true, export: false, condition: '', hidden: [], locked: [] },
    ...more,
  });
  const [height] = membersOf(design, 'apiaries').flatMap((member) => (member.kind === 'field' && member.field.id === 'a_decimal' ? [member.name] : []));
  return {
    kind: 'put',
    part: 'role',
    value: {
      ...{ id: 'keeper', name: 'Keeper', description: '', everything: false, menu: [] },
      grants: [grant('hives', { hidden: ['h_money'] }), grant('visits', {}), grant('apiaries', { condition: `${height ?? ''} > 0` })],
    },
  };
};

interface Outcome {
  same: number;
  waiting: number;
  readonly differing: string[];
}

/** Opens every hive, types in its form, computes there, saves, and holds that against what is read then. */
async function hold(caller: Caller, app: OpenApp, name: string, from: number, outcome: Outcome): Promise<void> {
  // The design of a member holds only what they can see.
  const design = app.design as unknown as AppDesign;
  const params = { app: app.id };
  const around = { now: Date.UTC(2026, 2, 29), zone: design.timeZone, me: { Name: name, Mail: '', Roles: [] } };
  const page = (table: string) => caller.call(contract.readPage, { params: { ...params, table }, query: { limit: 100 } });
  const apiaries = (await page('apiaries')).records.map((record) => record.id);
  for (const { id } of (await page('hives')).records) {
    const open = await caller.call(contract.readRecord, { params: { ...params, table: 'hives', id } });
    const start = draftOfRecord(design, 'hives', open);
    const sampled = (make: (pick: Pick) => RecordDraft): RecordDraft =>
      fc.sample(
        fc.gen().map((pick) => make((of) => pick(() => of))),
        { numRuns: 1, seed: from + id },
      )[0] ?? start;
    const typed = sampled((pick) => changed(design, start, apiaries, around, pick));
    const apiary = typed.own['hives_up'];
    const draft =
      isReference(apiary) && caller === ada
        ? await caller
            .call(contract.readRecord, { params: { ...params, table: 'apiaries', id: apiary.id } })
            .then((each) => sampled((pick) => withApiary(design, typed, each, pick)))
        : typed;
    const known: { table: string; open: OpenRecord }[] = [];
    const unseen = new Set<string>();
    const inForm = async (table: string, of: string, { expression }: Extract<Field, { kind: 'formula' }>): Promise<Value | typeof afterSaving> => {
      const checked = check(expression, { design, table }, wants.anything);
      // It is made of what this person doesn't see.
      if (!checked.ok) return afterSaving;
      for (;;) {
        const source = draftSource(design, 'hives', open, draft, new KnownRecords(design, known));
        try {
          return shown(evaluate(checked.node, { ...around, ...source, records: source, self: { kind: 'record', table, id: of } }), around.zone);
        } catch (error) {
          if (error instanceof OnlyWhenSaved || error instanceof TooMuch) return afterSaving;
          if (!(error instanceof NotAtHand)) throw error;
          const { table: wanted, id: missing }: RecordValue = error.record;
          if (unseen.has(`${wanted} ${missing}`)) return afterSaving;
          const asked = { ...params, table: wanted, id: Number(missing) };
          const answer = await caller.send('GET', caller.path(contract.readRecord, asked));
          if (answer.status === 200) known.push({ table: wanted, open: answer.body as OpenRecord });
          else unseen.add(`${wanted} ${missing}`);
        }
      }
    };
    const { writes, paths, issues } = writesOf(design, 'hives', { id, rev: open.record.rev, start }, draft);
    expect(issues).toEqual([]);
    const computed: { table: string; of: string; field: Extract<Field, { kind: 'formula' }>; value: Value | typeof afterSaving }[] = [];
    for (const [table, places] of [
      ['hives', ['own']],
      ['visits', (draft.children[childRows] ?? []).map((_, i) => `${childRows}.${i}`)],
    ] as const)
      for (const of of places)
        for (const each of tableOf(design, table).fields)
          if (each.kind === 'formula') computed.push({ table, of, field: each, value: await inForm(table, of, each) });
    const saved = writes.length === 0 ? [] : (await caller.call(contract.saveRecords, { params, body: { key: saveKey(), writes } })).records;
    const now = await caller.call(contract.readRecord, { params: { ...params, table: 'hives', id } });
    const rowAt = (of: string): OpenRecord['record'] | undefined => {
      if (of === 'own') return now.record;
      const row = draft.children[childRows]?.[Number(of.split('.')[1])];
      const rowId = row?.id ?? saved.find((each) => paths[each.write] === `children.${of}`)?.id;
      return now.children[0]?.records.find((record) => record.id === rowId);
    };
    for (const { table, of, field: each, value } of computed) {
      const record = rowAt(of);
      // A row that was begun and left as it came is not written.
      if (record === undefined) continue;
      const stored = record.values[each.id] ?? null;
      if (value === afterSaving) outcome.waiting += 1;
      else if (JSON.stringify(value) === JSON.stringify(stored)) outcome.same += 1;
      else
        outcome.differing.push(
          `${each.expression} (${table}, ${of}, ${name}, ${from}, record ${id}): form ${JSON.stringify(value)}, server ${JSON.stringify(stored)}`,
        );
    }
  }
}

/** An app with the design and the records of a garden, random formulas, and Bede Lunn as its keeper. */
async function planted(round: number): Promise<OpenApp> {
  const [garden] = fc.sample(gardens(), { numRuns: 1, seed: seed + round });
  if (garden === undefined) throw new Error('No garden');
  // A name that came over the wire holds no quotation marks.
  const begin = JSON.parse(JSON.stringify(garden.changes).replaceAll(String.raw`Half \"full\"`, 'Half full')) as DesignChange[];
  const first = await makeApp(ada, `Garden ${round}`, begin);
  const before = parseDesign(first.design);
  const [changes = []]: readonly (readonly DesignChange[])[] = fc.sample(
    fc.gen().map((pick) => Object.entries(formulasOf).flatMap(([table, count]) => formulas(before, table, count, (of) => pick(() => of)))),
    { numRuns: 1, seed: seed + round },
  );
  const app = await ada.call(contract.changeDesign, { params: { app: first.id }, body: { version: first.version, changes: [...changes, keeper(before)] } });
  const design = parseDesign(app.design);
  const writes = [...garden.rows].flatMap(([table, records]) =>
    records.map((record, i): Write => {
      const values = tableOf(design, table).fields.flatMap((each): [string, unknown][] => {
        const value = record[each.id] ?? null;
        if (!isStored(each)) return [];
        if (each.kind === 'reference') return value === null ? [] : [[each.id, { added: `${table === 'visits' ? 'hives' : 'apiaries'} ${Number(value) - 1}` }]];
        // What people can't type, nothing in a form holds.
        const parsed = valueOf(each, typedOf(each, value));
        return [[each.id, parsed.ok ? written(parsed.value) : each.required ? 'Moor' : null]];
      });
      return { kind: 'add', table, as: `${table} ${i}`, values: Object.fromEntries(values) as never };
    }),
  );
  await ada.call(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes } });
  await it.server.people.join(app.id, bede.id, 'member', ['keeper']);
  return app;
}

test(`a form computes what the server stores, in ${rounds} designs, seed ${seed}`, { timeout: 600_000 }, async () => {
  const [builder, member]: readonly Outcome[] = [0, 1].map(() => ({ same: 0, waiting: 0, differing: [] }));
  if (builder === undefined || member === undefined) throw new Error('Nobody is there');
  for (let round = 0; round < rounds; round += 1) {
    const app = await planted(round);
    await hold(ada, app, 'Ada Wren', seed + round * 100, builder);
    await hold(bede, await bede.call(contract.openApp, { params: { app: app.id } }), 'Bede Lunn', seed + round * 100 + 50, member);
  }
  expect([...builder.differing, ...member.differing].slice(0, 8)).toEqual([]);
  for (const { same, waiting } of [builder, member]) {
    expect(same).toBeGreaterThan(rounds * 100);
    // What only the server can tell is the exception.
    expect(waiting).toBeLessThan(same / 4);
  }
  expect(builder.waiting).toBeLessThan(builder.same / 10);
});
