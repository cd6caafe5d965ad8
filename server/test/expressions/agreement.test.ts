import {
  wants,
  check,
  evaluate,
  ExpressionCompiler,
  rowOf,
  shown,
  SqlBuilder,
  tableOf,
  TooMuch,
  type AppDesign,
  type Node,
  type Surroundings,
  type Made,
} from '@bibliona/core';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { statementDatabase } from '../support.js';
import { gardens, plant, source, zone, type Garden } from './garden.js';
import { Sentences, type Kind } from './sentences.js';
import { disagreements } from './disagreements.js';

/** Cases in one run; a nightly one asks for more, and for a seed of its own. */
const cases = Number(process.env['EXPRESSION_CASES'] ?? 2000);
const seed = Number(process.env['EXPRESSION_SEED'] ?? 20_261_123);
const perGarden = 250;
const mostFound = 10;

let database: Awaited<ReturnType<typeof statementDatabase>>;
let schemas = 0;
beforeAll(async () => {
  database = await statementDatabase();
  // Dates and numbers are compared as the language writes them, whatever a session is set to.
  await database.client.query(`SET timezone = 'Asia/Tokyo'; SET statement_timeout = '20s'`);
  await database.client.query(`CREATE SCHEMA bibliona; CREATE TABLE bibliona.person AS VALUES (1::bigint, 'Ada Wren'), (2, 'Bede Lunn')`);
  await database.client.query('ALTER TABLE bibliona.person RENAME column1 TO id; ALTER TABLE bibliona.person RENAME column2 TO name');
});
afterAll(() => database.close());

const around = {
  now: Date.UTC(2026, 2, 29, 0, 59, 59, 123),
  zone,
  me: { Name: 'Ada Wren', Mail: 'ada@quillmoor.example', Roles: ['keeper', 'visitor'] },
  person: 1,
};
/** Records were created by person 1, by person 2, or by nobody, in turn. */
const creatorOf = (id: number): number | null => [null, 1, 2][id % 3] ?? null;

const names = ['Ada Wren', 'Bede Lunn'];
const made = Date.parse('2026-03-01T08:00:00.123Z');
const madeOf = (id: number): Made => {
  const [by, changedBy] = [creatorOf(id), creatorOf(id + 1)];
  const nameOf = (person: number | null): string | null => (person === null ? null : (names[person - 1] ?? null));
  return { createdAt: made + id, createdBy: nameOf(by), changedAt: made + id * 86_400_000, changedBy: nameOf(changedBy) };
};

async function inSql(node: Node, design: AppDesign, schema: string, table: string): Promise<(string | null)[]> {
  const builder = new SqlBuilder();
  const visible = (id: string): string => `${schema}."${tableOf(design, id).slug}"`;
  const compiler = new ExpressionCompiler({ ...around, builder, design, visible, prefix: 'e' });
  const row = rowOf('t', table);
  const value = compiler.text(node, row);
  const condition = node.type.kind === 'boolean' ? `, (${compiler.condition(node, row)}) IS TRUE` : ', NULL::boolean';
  const { text, params } = builder.done(
    `SELECT (${value})::text AS value${condition} AS met FROM ${visible(table)} AS t ${row.scope.joins.join(' ')} ORDER BY t.id`,
  );
  const { rows } = await database.client.query<{ value: string | null; met: boolean | null }>(text, [...params] as unknown[]);
  // As a condition it has to admit exactly the records of which it is true.
  if (node.type.kind === 'boolean') expect(rows.map((each) => each.met)).toEqual(rows.map((each) => each.value === 'true'));
  return rows.map((each) => each.value);
}

function inMemory(node: Node, garden: Garden, table: string): (string | null)[] {
  return (garden.rows.get(table) ?? []).map((_, i) => {
    const surroundings: Surroundings = {
      ...around,
      records: source(garden),
      isMine: ({ id }) => creatorOf(Number(id)) === 1,
      made: ({ id }) => madeOf(Number(id)),
      self: { kind: 'record', table, id: i + 1 },
    };
    const value = shown(evaluate(node, surroundings), zone);
    return value === null ? null : String(value);
  });
}

async function planted(garden: Garden): Promise<string> {
  schemas += 1;
  const schema = `garden_${schemas}`;
  await plant(database.client, schema, garden);
  for (const { slug } of garden.design.tables)
    await database.client.query(
      `UPDATE ${schema}."${slug}" SET created_by = CASE id % 3 WHEN 0 THEN NULL ELSE id % 3 END, updated_by = CASE (id + 1) % 3 WHEN 0 THEN NULL ELSE (id + 1) % 3 END, created_at = timestamptz '2026-03-01T08:00:00.1234Z' + id * interval '1 ms', updated_at = timestamptz '2026-03-01T08:00:00.1231Z' + id * interval '24 hours'`,
    );
  return schema;
}

const kinds: readonly Kind[] = ['number', 'number', 'string', 'boolean', 'boolean', 'date', 'time', 'moment', 'duration', 'months'];

describe('both engines give the same', () => {
  test(`for ${cases} generated expressions, seed ${seed}`, { timeout: 3_600_000 }, async () => {
    let [compared, refused] = [0, 0];
    const found: string[] = [];
    for (let n = 0; compared < cases && found.length < mostFound; n += 1) {
      const [garden] = fc.sample(gardens(), { numRuns: 1, seed: seed + n });
      if (garden === undefined) throw new Error('No garden');
      const schema = await planted(garden);
      const sentence = fc.gen().map((pick) => {
        const sentences = new Sentences(garden.design, (of) => pick(() => of), true);
        const table = pick(() => fc.constantFrom('visits', 'hives', 'apiaries'));
        return {
          table,
          text: sentences.expression(
            pick(() => fc.constantFrom(...kinds)),
            table,
            pick(() => fc.integer({ min: 1, max: 4 })),
          ),
        };
      });
      for (const { table, text } of fc.sample(sentence, { numRuns: perGarden, seed: seed + n })) {
        const checked = check(text, { design: garden.design, table }, wants.anything);
        if (!checked.ok) {
          // Only for its size, or a constant that is none: everything else that is generated is well-typed.
          expect(checked.problems[0]?.message, text).toMatch(
            /800 digits|2000 characters|too many parts|deep in one another|is no date|not what|is never|goes through/u,
          );
          refused += 1;
          continue;
        }
        let wanted: (string | null)[];
        try {
          wanted = inMemory(checked.node, garden, table);
        } catch (error) {
          if (error instanceof TooMuch) continue;
          throw new Error(`${text} raised in memory (seed ${seed + n}, over ${table})`, { cause: error });
        }
        const got = await inSql(checked.node, garden.design, schema, table).catch((error: unknown) => [String(error)]);
        const at = got.findIndex((each, i) => each !== wanted[i]);
        if (at >= 0)
          found.push(
            `${text}\n  over ${table} ${at + 1} ${JSON.stringify(garden.rows.get(table)?.[at])}, seed ${seed + n}: SQL ${got[at]}, memory ${wanted[at]}`,
          );
        compared += 1;
      }
      await database.client.query(`DROP SCHEMA ${schema} CASCADE`);
    }
    expect(found.join('\n')).toBe('');
    expect(refused).toBeLessThan(cases / 4);
  });

  test.each(disagreements)('once they did not: %s', async (text) => {
    const [garden] = fc.sample(gardens(), { numRuns: 1, seed: 7 });
    if (garden === undefined) throw new Error('No garden');
    const schema = await planted(garden);
    const checked = check(text, { design: garden.design, table: 'visits' }, wants.anything);
    if (!checked.ok) throw new Error(checked.problems[0]?.message);
    expect(await inSql(checked.node, garden.design, schema, 'visits')).toEqual(inMemory(checked.node, garden, 'visits'));
  });
});
