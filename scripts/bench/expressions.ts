import {
  asBuilder,
  check,
  circumstancesOf,
  compileCount,
  evaluate,
  ExpressionCompiler,
  queryOf,
  restrict,
  rowOf,
  SqlBuilder,
  wants,
  type AppDesign,
  type OpenApp,
  type RecordSource,
  type Value,
} from '@bibliona/core';
import { fill, makeTable, median, planOf, time, type Bench, type Line } from './bench.js';

const rows = Number(process.env['BENCH_ROWS'] ?? 1_000_000);
const runs = 7;
const evaluated = 100_000;
const person = asBuilder({ id: 1, name: 'Bench', mail: 'bench@quillmoor.example' });

const formula =
  'if Amount > 100 and (Stores = "Full" or Stores = "Fair") and Warmth between 5 and 35 and Keeper != null then decimal(Amount * (1 - Mites / 100) + Number / Bees, 2) else max(Amount, 0) + string length(Place)';

/** Checking and compiling, evaluating in memory and in SQL, and filtering by a compiled condition. */
export async function benchExpressions(bench: Bench): Promise<Line[]> {
  const { app, schema } = await makeTable(bench, 'Filtered', 'date');
  await fill(bench, schema, rows);
  await bench.client.query(`CREATE INDEX ON "${schema}".visits (number)`);
  await bench.client.query(`VACUUM ANALYZE "${schema}".visits`);
  const design = (app as OpenApp & { design: AppDesign }).design;
  return [checking(design, schema), await evaluating(bench, design, schema), ...(await filtering(bench, design, schema))];
}

/** Checked and compiled anew: `turn` makes the text one that was not seen before. */
function compiled(design: AppDesign, schema: string, turn: number): string {
  const checked = check(`${formula}${' '.repeat(turn % 1000)}${'\n'.repeat(Math.floor(turn / 1000))}`, { design, table: 'visits' });
  if (!checked.ok) throw new Error(checked.problems[0]?.message);
  const around = circumstancesOf(design, person, Date.now());
  return new ExpressionCompiler({ ...around, builder: new SqlBuilder(), design, visible: () => `"${schema}".visits`, prefix: 'e' }).value(
    checked.node,
    rowOf('t', 'visits'),
  );
}

function checking(design: AppDesign, schema: string): Line {
  const times: number[] = [];
  for (let i = 0; i < 2000; i += 1) {
    const from = performance.now();
    compiled(design, schema, i);
    times.push(performance.now() - from);
  }
  const each = median(times.slice(500));
  return {
    what: 'check and compile 200 characters',
    ours: `${each.toFixed(2)} ms`,
    theirs: '1 ms',
    ratio: each,
    budget: '< 1',
    also: `${formula.length} of them, median of 1,500 after 500`,
  };
}

/** A formula over 100,000 records: in memory against in PostgreSQL, which also has to read them. */
async function evaluating(bench: Bench, design: AppDesign, schema: string): Promise<Line> {
  const checked = check(formula, { design, table: 'visits' });
  if (!checked.ok) throw new Error(checked.problems[0]?.message);
  const { node } = checked;
  const fields = design.tables[0]?.fields ?? [];
  const columns = fields.map(
    (field) => `${field.kind === 'decimal' || field.kind === 'date' ? `"${field.column}"::text` : `"${field.column}"`} AS "${field.id}"`,
  );
  const records = (await bench.client.query<Record<string, Value>>(`SELECT ${columns.join(', ')} FROM "${schema}".visits ORDER BY id LIMIT ${evaluated}`)).rows;
  const around = circumstancesOf(design, person, Date.now());
  const source: RecordSource = { value: (record, field) => records[record.id as number]?.[field.id] ?? null, children: () => [] };
  const builder = new SqlBuilder();
  const compiler = new ExpressionCompiler({ ...around, builder, design, visible: () => `"${schema}".visits`, prefix: 'e' });
  const value = compiler.value(node, rowOf('t', 'visits'));
  const { text, params } = builder.done(`SELECT count(${value}) FROM (SELECT * FROM "${schema}".visits ORDER BY id LIMIT ${evaluated}) AS t`);
  const [inMemory, inSql]: [number[], number[]] = [[], []];
  for (let i = 0; i < runs; i += 1) {
    inMemory.push(
      await time(() => {
        for (let n = 0; n < evaluated; n += 1) evaluate(node, { ...around, records: source, self: { kind: 'record', table: 'visits', id: n } });
      }),
    );
    inSql.push(await time(() => bench.client.query(text, [...params] as unknown[])));
  }
  const [a, b] = [median(inMemory), median(inSql)];
  return {
    what: 'a formula of 200 characters over 100,000 records',
    ours: `in memory ${a.toFixed(0)} ms`,
    theirs: `in SQL ${b.toFixed(0)} ms`,
    ratio: a / b,
    budget: 'recorded',
    also: '',
  };
}

async function filtering(bench: Bench, design: AppDesign, schema: string): Promise<Line[]> {
  const asked = [
    { what: 'filter 1,000,000 by an indexed column', condition: 'Number between 1000 and 40000', sql: 'number BETWEEN 1000 AND 40000' },
    {
      what: 'filter 1,000,000 by three columns',
      condition: 'Stores = "Full" and Mites > 20 and Amount * 2 > 15000',
      sql: `stores = 'full' AND mites > 20 AND amount * 2 > 15000`,
    },
  ];
  const lines: Line[] = [];
  for (const each of asked) {
    const checked = check(each.condition, { design, table: 'visits' }, wants.truth);
    if (!checked.ok) throw new Error(checked.problems[0]?.message);
    const query = queryOf('visits', { where: { kind: 'meets', condition: checked.node } });
    const { text, params } = compileCount([restrict(query, design, person, Date.now()), design, schema], null);
    const byHand = `SELECT count(*)::float8 AS count FROM "${schema}".visits AS t WHERE ${each.sql}`;
    const [ours, theirs]: [number[], number[]] = [[], []];
    for (let i = 0; i < runs * 3; i += 1) {
      ours.push(await time(() => bench.client.query(text, [...params] as unknown[])));
      theirs.push(await time(() => bench.client.query(byHand)));
    }
    const [our, their] = [await planOf(bench, text, params), await planOf(bench, byHand, [])];
    const [a, b] = [median(ours), median(theirs)];
    lines.push({
      what: each.what,
      ours: `${a.toFixed(1)} ms`,
      theirs: `the WHERE by hand ${b.toFixed(1)} ms`,
      ratio: a / b,
      budget: '≤ 1.1, same plan',
      also: our === their ? 'same plan' : `plans differ: ${our} / ${their}`,
    });
  }
  return lines;
}
