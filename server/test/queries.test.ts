import {
  wants,
  standardLocale,
  asBuilder,
  check,
  circumstancesOf,
  compileLedger,
  compileResult,
  emptyDesign,
  contract,
  evaluate,
  ledgerOf,
  readQuery,
  restrict,
  shown,
  shownType,
  type DesignChange,
  type Feel,
  type OpenApp,
  type SavedQuery,
} from '@bibliona/core';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { gardens, plant, source, zone, type Garden } from './expressions/garden.js';
import { Sentences, type Kind } from './expressions/sentences.js';
import { honey, makeApp, saveKey, statementDatabase, testServer, type Caller, type TestServer } from './support.js';

const column = (id: string, expression: string, more: Partial<SavedQuery['columns'][number]> = {}): SavedQuery['columns'][number] => ({
  id: `c_${id}`,
  name: id,
  expression,
  summary: null,
  digits: null,
  ...more,
});
const query = (table: string, more: Partial<SavedQuery> = {}): SavedQuery => ({
  id: 'q_asked',
  name: 'Asked',
  description: '',
  section: '',
  table,
  condition: '',
  columns: [],
  order: [],
  limit: null,
  ...more,
});

describe('an answer', () => {
  let it: TestServer;
  let ada: Caller;
  let app: OpenApp;
  beforeAll(async () => {
    it = await testServer();
    ada = await it.person('Ada Wren');
    app = await makeApp(ada, 'Asked', honey);
    const hive = (as: string, code: string, apiary: string | null, rent: string | null, year: number | null, stores: string | null) => ({
      kind: 'add',
      table: 'hives',
      as,
      values: { h_code: code, h_rent: rent, h_year: year, h_stores: stores, ...(apiary === null ? {} : { h_apiary: { added: apiary } }) },
    });
    await ada.call(contract.saveRecords, {
      params: { app: app.id },
      body: {
        key: saveKey(),
        writes: [
          { kind: 'add', table: 'apiaries', as: 'a', values: { a_name: 'Brackmoor', a_height: 300 } },
          { kind: 'add', table: 'apiaries', as: 'b', values: { a_name: 'Heron Mere' } },
          hive('1', 'H-1', 'a', '10.10', 2024, 'full'),
          hive('2', 'H-2', 'a', '0.20', 2025, 'low'),
          hive('3', 'H-3', 'b', null, 2025, 'full'),
          hive('4', 'H-4', null, '5', null, null),
        ],
      },
    });
  });
  afterAll(() => it.close());
  const tried = (asked: SavedQuery) => ada.call(contract.tryQuery, { params: { app: app.id }, body: { query: asked } });
  const change = async (...changes: readonly DesignChange[]): Promise<void> => {
    app = await ada.call(contract.changeDesign, { params: { app: app.id }, body: { version: app.version, changes } });
  };

  test('walks references, orders with empty values last, and accounts for every row in its ledger', async () => {
    const answer = await tried(
      query('hives', {
        condition: 'Apiary.Name != null and Rent > 0.1',
        columns: [column('code', 'Code'), column('apiary', 'Apiary'), column('rent', 'Rent * 2'), column('stores', 'Stores')],
        order: [{ column: 'c_stores', direction: 'up' }],
      }),
    );
    expect(answer.rows).toEqual([
      { id: 2, cells: ['H-2', { id: 1, caption: 'Brackmoor' }, '0.4', 'Low'] },
      { id: 1, cells: ['H-1', { id: 1, caption: 'Brackmoor' }, '20.2', 'Full'] },
    ]);
    expect(answer.columns.map((each) => [each.type, each.table])).toEqual([
      ['string', null],
      ['record', 'apiaries'],
      ['number', null],
      ['choice', null],
    ]);
    expect(answer.ledger.map((each) => [each.kind, each.left])).toEqual([
      ['grain', 4],
      ['condition', 3],
      ['condition', 2],
    ]);
    const last = await tried(query('hives', { columns: [column('y', 'Queen year')], order: [{ column: 'c_y', direction: 'down' }] }));
    expect(last.rows.map((row) => [row.id, row.cells[0]])).toEqual([
      [2, '2025'],
      [3, '2025'],
      [1, '2024'],
      [4, null],
    ]);
  });

  test('summarises per whatever is not summarised, empty values left out of the sums', async () => {
    const answer = await tried(
      query('hives', {
        columns: [
          column('apiary', 'Apiary'),
          column('hives', '', { summary: 'count' }),
          column('rented', 'Rent', { summary: 'count' }),
          column('rent', 'Rent', { summary: 'sum' }),
          column('mean', 'Queen year', { summary: 'average' }),
          column('first', 'Code', { summary: 'smallest' }),
          column('last', 'Queen year', { summary: 'largest' }),
        ],
        order: [{ column: 'c_rent', direction: 'down' }],
        limit: 2,
      }),
    );
    expect(answer.rows).toEqual([
      { id: null, cells: [{ id: 1, caption: 'Brackmoor' }, '2', '2', '10.3', '2024.5', 'H-1', '2025'] },
      { id: null, cells: [null, '1', '1', '5', null, 'H-4', null] },
    ]);
    expect(answer.ledger).toEqual([
      { kind: 'grain', condition: '', left: 4 },
      { kind: 'groups', condition: '', left: 3 },
      { kind: 'limit', condition: '', left: 2 },
    ]);
    const all = await tried(
      query('hives', { condition: 'Code = "none"', columns: [column('n', '', { summary: 'count' }), column('s', 'Rent', { summary: 'sum' })] }),
    );
    expect(all.rows).toEqual([{ id: null, cells: ['0', null] }]);
  });

  test('says what cannot be read, and in which column', async () => {
    const refused = await ada.refused(contract.tryQuery, {
      params: { app: app.id },
      body: { query: query('hives', { condition: 'Rnt > 1', columns: [column('a', 'Codde'), column('b', 'Code', { summary: 'sum' }), column('c', '')] }) },
    });
    expect(refused.status).toBe(422);
    expect(refused.body.issues).toMatchObject([
      { path: 'condition', message: 'Hives has nothing called “Rnt”. Did you mean Rent?' },
      { path: 'columns.c_a' },
      { path: 'columns.c_b', message: 'This must be a number. It is a text.' },
      { path: 'columns.c_c', message: 'Choose what this column shows.' },
    ]);
  });

  test('of a saved query follows its design: fields are renamed in it, and those it needs stay', async () => {
    await change({
      kind: 'put',
      part: 'query',
      value: query('hives', { id: 'q_rents', name: 'Rents', condition: 'Rent > 1', columns: [column('c', 'Apiary.Name')] }),
    });
    const { fields } = app.design.tables.find((table) => table.id === 'hives') ?? { fields: [] };
    const rent = fields.find((field) => field.id === 'h_rent');
    if (rent === undefined) throw new Error('No rent');
    await change({ kind: 'change_field', table: 'hives', field: { ...rent, name: 'Yearly rent' } });
    expect(app.design.queries).toMatchObject([{ condition: 'Yearly rent > 1' }]);
    const answer = await ada.call(contract.readQuery, { params: { app: app.id, query: 'q_rents' } });
    expect(answer.rows.map((row) => row.cells)).toEqual([['Brackmoor'], [null]]);
    const refused = await ada.refused(contract.changeDesign, {
      params: { app: app.id },
      body: { version: app.version, changes: [{ kind: 'remove_field', table: 'hives', field: 'h_rent' }] },
    });
    expect(refused.body.message).toContain('It is still used in the condition of the query Rents');
    expect((await ada.refused(contract.readQuery, { params: { app: app.id, query: 'q_none' } })).status).toBe(404);
    await change({ kind: 'remove', part: 'query', id: 'q_rents' });
    expect(app.design.queries).toEqual([]);
  });
});

/** The sum of decimals, to the last digit. */
function exactSum(numbers: readonly string[]): string {
  const places = Math.max(...numbers.map((number) => number.split('.')[1]?.length ?? 0));
  const scaled = numbers.map((number) => {
    const [whole = '', fraction = ''] = number.split('.');
    return BigInt(whole + fraction.padEnd(places, '0'));
  });
  const total = scaled.reduce((sum, each) => sum + each, 0n);
  const digits = String(total < 0n ? -total : total).padStart(places + 1, '0');
  const text = places === 0 ? digits : `${digits.slice(0, -places)}.${digits.slice(-places)}`.replace(/\.?0+$/u, '');
  return `${total < 0n ? '-' : ''}${text}`;
}

describe('the compiler', () => {
  const person = asBuilder({ id: 1, name: 'Ada Wren', mail: 'ada@quillmoor.example' });
  const now = Date.UTC(2026, 2, 29, 0, 59, 59, 123);
  const [runs, seed] = [200, Number(process.env['EXPRESSION_SEED'] ?? 20_261_123)];
  let database: Awaited<ReturnType<typeof statementDatabase>>;
  beforeAll(async () => {
    database = await statementDatabase();
  });
  afterAll(() => database.close());

  /** A query over a garden, from the same sentences as expressions are tried with. */
  const asked = (garden: Garden): fc.Arbitrary<SavedQuery> =>
    fc.gen().map((pick) => {
      const table = pick(() => fc.constantFrom('visits', 'hives', 'apiaries'));
      const sentences = new Sentences(garden.design, (of) => pick(() => of));
      const sentence = (kind: Kind): string =>
        sentences.expression(
          kind,
          table,
          pick(() => fc.integer({ min: 1, max: 2 })),
        );
      const kind = (): Kind => pick(() => fc.constantFrom<Kind>('number', 'string', 'boolean', 'date'));
      const sums = pick(() => fc.boolean());
      const columns = Array.from({ length: pick(() => fc.integer({ min: 1, max: 3 })) }, (_, i) => {
        const summary = sums ? pick(() => fc.constantFrom(null, 'count', 'sum', 'average', 'smallest', 'largest' as const)) : null;
        const of = summary === 'sum' || summary === 'average' ? 'number' : summary === 'smallest' || summary === 'largest' ? 'date' : kind();
        return column(`c${i}`, sentence(of), { summary });
      });
      const condition = pick(() => fc.integer({ min: 0, max: 2 }));
      return query(table, { condition: Array.from({ length: condition }, () => `(${sentence('boolean')})`).join(' and '), columns });
    });

  const text = (value: Feel): string | null => {
    const out = shown(value, zone);
    return out === null ? null : String(out);
  };
  const summed = (summary: string | null, values: readonly Feel[]): string | null => {
    const filled = values.filter((value) => value !== null);
    if (summary === 'count') return String(filled.length);
    if (filled.length === 0) return null;
    if (summary === 'smallest' || summary === 'largest') {
      const sorted = filled.map((each) => text(each) ?? '').sort();
      return (summary === 'smallest' ? sorted[0] : sorted.at(-1)) ?? null;
    }
    const numbers = filled.map((each) => String(text(each)));
    if (summary === 'sum') return exactSum(numbers);
    // The numbers stand in the list themselves: written out, some would be longer than a number can be.
    const mean = check('mean([1])', { design: emptyDesign('Mean'), table: null });
    if (!mean.ok || mean.node.kind !== 'call') throw new Error('There is no mean');
    const [list] = mean.node.args;
    if (list?.kind !== 'list') throw new Error('There is no list');
    const items = filled.map((value) => ({ kind: 'constant', value, type: { kind: 'number' }, from: 0, to: 0 }) as const);
    return text(
      evaluate(
        { ...mean.node, args: [{ ...list, items }] },
        { ...circumstancesOf(emptyDesign('Mean'), person, now), records: { value: () => null, children: () => [] }, self: null },
      ),
    );
  };

  test(`answers ${runs} generated queries as a count by hand does, seed ${seed}`, async () => {
    let [compared, schemas] = [0, 0];
    for (let n = 0; compared < runs; n += 1) {
      const [garden] = fc.sample(gardens(), { numRuns: 1, seed: seed + n });
      if (garden === undefined) throw new Error('No garden');
      const schema = `asked_${(schemas += 1)}`;
      await plant(database.client, schema, garden);
      const { design } = garden;
      for (const saved of fc.sample(asked(garden), { numRuns: 40, seed: seed + n })) {
        const read = readQuery(saved, design);
        if (!read.ok) continue;
        const around = circumstancesOf(design, person, now);
        const value = (expression: string, id: number): Feel => {
          const checked = check(expression, { design, table: saved.table }, wants.anything);
          if (!checked.ok) throw new Error(expression);
          return evaluate(checked.node, { ...around, records: source(garden), self: { kind: 'record', table: saved.table, id } });
        };
        const all = (garden.rows.get(saved.table) ?? []).map((_, i) => i + 1);
        let wanted: { id: number | null; cells: (string | boolean | null)[] }[];
        let kept: number[];
        try {
          kept = all.filter((id) => saved.condition === '' || value(saved.condition, id) === true);
          const cell = (expression: string, id: number): string | boolean | null => {
            const one = value(expression, id);
            return typeof one === 'boolean' ? one : text(one);
          };
          if (saved.columns.every((each) => each.summary === null))
            wanted = kept.map((id) => ({ id, cells: saved.columns.map((each) => cell(each.expression, id)) }));
          else {
            const groups = new Map<string, number[]>();
            const by = saved.columns.filter((each) => each.summary === null);
            if (by.length === 0) groups.set('[]', []);
            for (const id of kept) {
              const key = JSON.stringify(by.map((each) => cell(each.expression, id)));
              groups.set(key, [...(groups.get(key) ?? []), id]);
            }
            wanted = [...groups.values()].map((ids) => ({
              id: null,
              cells: saved.columns.map((each) =>
                each.summary === null
                  ? cell(each.expression, ids[0] ?? 0)
                  : summed(
                      each.summary,
                      ids.map((id) => value(each.expression, id)),
                    ),
              ),
            }));
          }
        } catch (error) {
          if ((error as Error).name === 'TooMuch' || error instanceof RangeError) continue;
          throw error;
        }
        const from = [restrict(read.asked, design, person, now), design, schema] as const;
        const rows = await database.run<{ id: string | null; cells: unknown[] }>(compileResult(from, { limit: 1000 }));
        const sorted = (list: readonly { id: unknown; cells: readonly unknown[] }[]): string[] =>
          list.map((each) => JSON.stringify([each.id === null ? null : Number(each.id), each.cells])).sort();
        expect(sorted(rows), JSON.stringify({ saved, seed: seed + n })).toEqual(sorted(wanted));
        const [counted] = await database.run<{ counts: number[] }>(compileLedger(...from));
        const ledger = ledgerOf(saved, read.asked, design, counted?.counts ?? [], standardLocale());
        expect(ledger[0]?.left).toBe(all.length);
        expect(ledger.findLast((ledgerStep) => ledgerStep.kind !== 'groups')?.left).toBe(kept.length);
        if (saved.columns.some((each) => each.summary !== null)) expect(ledger.at(-1)).toEqual({ kind: 'groups', condition: '', left: wanted.length });
        expect(read.asked.columns.map(shownType)).toHaveLength(saved.columns.length);
        compared += 1;
      }
      await database.client.query(`DROP SCHEMA ${schema} CASCADE`);
    }
  });
});
