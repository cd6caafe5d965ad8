import {
  parseDesign,
  check,
  contract,
  evaluate,
  isStored,
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
import { gardens, valueOf as valuesFor, zone } from '../../server/test/expressions/garden.js';
import { Sentences, type Kind } from '../../server/test/expressions/sentences.js';
import { field, makeApp, saveKey, testServer, type Caller, type TestServer } from '../../server/test/support.js';
import { draftSource, KnownRecords, OnlyWhenSaved } from '../../web/src/desk/record/draft-source.js';
import {
  draftOfRecord,
  emptyValues,
  typedOf,
  valueOf,
  writesOf,
  type ChildDraft,
  type RecordDraft,
  type TypedValues,
} from '../../web/src/desk/record/draft.js';
import { loadLanguage } from '../../web/src/state/language.js';

/**
 * What a form computes while it is filled in is what the server stores when it is saved: random formulas and conditions over
 * random records, of which a random part was typed anew, with rows that were changed, added and removed.
 */
const [rounds, seed] = [Number(process.env['FORM_ROUNDS'] ?? 4), Number(process.env['FORM_SEED'] ?? 20_261_129)];
const kinds: readonly Kind[] = ['number', 'number', 'string', 'boolean', 'boolean', 'date', 'time', 'moment', 'duration', 'months'];
const formulasOf: Readonly<Record<string, number>> = { hives: 16, visits: 8 };

let it: TestServer;
let ada: Caller;
beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Wren');
  await loadLanguage();
});
afterAll(() => it.close());

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
  tableOf(design, table).fields.filter((one) => isStored(one) && one.kind !== 'reference');

/** Some of the values typed anew, as far as people can type such values. */
function retyped(values: TypedValues, fields: readonly Field[], pick: Pick): TypedValues {
  const next: Record<string, TypedValues[string]> = { ...values };
  for (const one of fields) {
    if (!pick(fc.integer({ min: 0, max: 2 }).map((n) => n === 0))) continue;
    const typed = typedOf(one, pick(fc.option(valuesFor(one), { freq: 6 })));
    if (valueOf(one, typed).ok) next[one.id] = typed;
  }
  return next;
}

const childRows = 'r_visits';

function changed(design: AppDesign, draft: RecordDraft, around: Parameters<typeof emptyValues>[2], pick: Pick): RecordDraft {
  const rows = (draft.children[childRows] ?? []).flatMap((row): ChildDraft[] => {
    const what = pick(fc.constantFrom('keep', 'change', 'change', 'remove'));
    return what === 'remove' ? [] : [what === 'keep' ? row : { ...row, values: retyped(row.values, storedIn(design, 'visits'), pick) }];
  });
  const begun = emptyValues(design, tableOf(design, 'visits'), around, {});
  const added = Array.from({ length: pick(fc.integer({ min: 0, max: 2 })) }, (_, i): ChildDraft => {
    const values = retyped({ ...begun, v_whole: String(i + 1) }, storedIn(design, 'visits'), pick);
    return { key: `new ${i}`, id: null, rev: 0, begun, values };
  });
  const parent = pick(fc.option(fc.integer({ min: 1, max: 3 })));
  const own = { ...retyped(draft.own, storedIn(design, 'hives'), pick), hives_up: parent === null ? null : { id: parent, caption: '' } };
  return { own, children: { ...draft.children, [childRows]: [...rows, ...added] } };
}

test(`a form computes what the server stores, in ${rounds} designs, seed ${seed}`, { timeout: 600_000 }, async () => {
  let [same, waiting] = [0, 0];
  const differing: string[] = [];
  for (let round = 0; round < rounds; round += 1) {
    const [garden] = fc.sample(gardens(), { numRuns: 1, seed: seed + round });
    if (garden === undefined) throw new Error('No garden');
    // A name that came over the wire holds no quotation marks.
    const first = await makeApp(
      ada,
      `Garden ${round}`,
      JSON.parse(JSON.stringify(garden.changes).replaceAll(String.raw`Half \"full\"`, 'Half full')) as DesignChange[],
    );
    const [changes = []]: readonly (readonly DesignChange[])[] = fc.sample(
      fc.gen().map((pick) => Object.entries(formulasOf).flatMap(([table, count]) => formulas(parseDesign(first.design), table, count, (of) => pick(() => of)))),
      { numRuns: 1, seed: seed + round },
    );
    const app: OpenApp = await ada.call(contract.changeDesign, { params: { app: first.id }, body: { version: first.version, changes } });
    const design = parseDesign(app.design);
    const params = { app: app.id };
    const around = { now: Date.UTC(2026, 2, 29), zone: design.timeZone ?? zone, me: { Name: 'Ada Wren', Mail: 'ada.wren@quillmoor.example', Roles: [] } };

    const begin = [...garden.rows].flatMap(([table, records]) =>
      records.map((record, i): Write => {
        const values = tableOf(design, table).fields.flatMap((one): [string, unknown][] => {
          const value = record[one.id] ?? null;
          if (!isStored(one)) return [];
          if (one.kind === 'reference') return value === null ? [] : [[one.id, { added: `${table === 'visits' ? 'hives' : 'apiaries'} ${Number(value) - 1}` }]];
          // What people can't type, nothing in a form holds.
          const parsed = valueOf(one, typedOf(one, value));
          return [[one.id, parsed.ok ? written(parsed.value) : one.required ? 'Moor' : null]];
        });
        return { kind: 'add', table, as: `${table} ${i}`, values: Object.fromEntries(values) as never };
      }),
    );
    const { records: hives } = await ada.call(contract.saveRecords, { params, body: { key: saveKey(), writes: begin } });

    for (const { id } of hives.filter((one) => one.table === 'hives')) {
      const open = await ada.call(contract.readRecord, { params: { ...params, table: 'hives', id } });
      const start = draftOfRecord(design, 'hives', open);
      const [draft = start]: readonly RecordDraft[] = fc.sample(
        fc.gen().map((pick) => changed(design, start, around, (of) => pick(() => of))),
        { numRuns: 1, seed: seed + round * 100 + id },
      );
      const known: { table: string; open: OpenRecord }[] = [];
      const inForm = async (table: string, of: string, { expression }: Extract<Field, { kind: 'formula' }>): Promise<Value | 'after saving'> => {
        const checked = check(expression, { design, table }, wants.anything);
        if (!checked.ok) throw new Error(expression);
        for (;;) {
          const source = draftSource(design, 'hives', open, draft, new KnownRecords(design, known));
          try {
            return shown(evaluate(checked.node, { ...around, ...source, records: source, self: { kind: 'record', table, id: of } }), around.zone);
          } catch (error) {
            if (error instanceof OnlyWhenSaved || error instanceof TooMuch) return 'after saving';
            if (!(error instanceof NotAtHand)) throw error;
            const { table: wanted, id: missing }: RecordValue = error.record;
            known.push({ table: wanted, open: await ada.call(contract.readRecord, { params: { ...params, table: wanted, id: Number(missing) } }) });
          }
        }
      };
      const { writes, paths, issues } = writesOf(design, 'hives', { id, rev: open.record.rev, start }, draft);
      expect(issues).toEqual([]);
      const computed: { table: string; of: string; field: Extract<Field, { kind: 'formula' }>; value: Value | 'after saving' }[] = [];
      for (const [table, places] of [
        ['hives', ['own']],
        ['visits', (draft.children[childRows] ?? []).map((_, i) => `${childRows}.${i}`)],
      ] as const)
        for (const of of places)
          for (const one of tableOf(design, table).fields)
            if (one.kind === 'formula') computed.push({ table, of, field: one, value: await inForm(table, of, one) });
      const saved = writes.length === 0 ? [] : (await ada.call(contract.saveRecords, { params, body: { key: saveKey(), writes } })).records;
      const now = await ada.call(contract.readRecord, { params: { ...params, table: 'hives', id } });
      const rowAt = (of: string): OpenRecord['record'] | undefined => {
        if (of === 'own') return now.record;
        const row = draft.children[childRows]?.[Number(of.split('.')[1])];
        const rowId = row?.id ?? saved.find((one) => paths[one.write] === `children.${of}`)?.id;
        return now.children[0]?.records.find((one) => one.id === rowId);
      };
      for (const { table, of, field: one, value } of computed) {
        const record = rowAt(of);
        // A row that was begun and left as it came is not written.
        if (record === undefined) continue;
        const stored = record.values[one.id] ?? null;
        if (value === 'after saving') waiting += 1;
        else if (JSON.stringify(value) === JSON.stringify(stored)) same += 1;
        else
          differing.push(`${one.expression} (${table}, ${of}, round ${round}, record ${id}): form ${JSON.stringify(value)}, server ${JSON.stringify(stored)}`);
      }
    }
  }
  expect(differing.slice(0, 8)).toEqual([]);
  expect(same).toBeGreaterThan(rounds * 150);
  // What only the server can tell is the exception.
  expect(waiting).toBeLessThan(same / 10);
});
