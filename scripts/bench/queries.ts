import {
  applyChanges,
  asBuilder,
  compilePage,
  compilePickable,
  compileResultGroups,
  compileResult,
  everyRow,
  queryOf,
  readQuery,
  restrict,
  type AppDesign,
  type OpenApp,
  type Person,
  type SavedQuery,
  type Statement,
} from '@bibliona/core';
import { fill, makeTable, median, planOf, time, type Bench, type Line } from './bench.js';

const rows = Number(process.env['BENCH_ROWS'] ?? 1_000_000);
const runs = 9;
const builder = asBuilder({ id: 1, name: 'Bench', mail: 'bench@quillmoor.example' });

/** Saved queries against the same SQL by hand, and pages with the rules of access against pages without. */
export async function benchQueries(bench: Bench): Promise<Line[]> {
  const { app, schema } = await makeTable(bench, 'Queried', 'date');
  await fill(bench, schema, rows);
  await bench.client.query(`VACUUM ANALYZE "${schema}".visits`);
  const design = (app as OpenApp & { design: AppDesign }).design;
  return [...(await summedUp(bench, design, schema)), ...(await picked(bench, design, schema)), ...(await restricted(bench, design, schema))];
}

const column = (id: string, expression: string, summary: SavedQuery['columns'][number]['summary'] = null) => ({
  id,
  name: id,
  expression,
  summary,
  digits: null,
});

async function compare(
  bench: Bench,
  ours: Statement,
  theirs: { readonly text: string; readonly params: readonly unknown[] },
): Promise<readonly [number, number]> {
  const [a, b]: [number[], number[]] = [[], []];
  for (let i = 0; i < runs; i += 1) {
    a.push(await time(() => bench.client.query(ours.text, [...ours.params])));
    b.push(await time(() => bench.client.query(theirs.text, [...theirs.params])));
  }
  return [median(a), median(b)];
}

async function summedUp(bench: Bench, design: AppDesign, schema: string): Promise<Line[]> {
  const asked = [
    {
      what: 'sum up 1,000,000 per place',
      query: {
        condition: 'Stores = "Full" and Mites > 5',
        columns: [column('c_place', 'Place'), column('c_count', '', 'count'), column('c_mites', 'Mites', 'sum'), column('c_last', 'Date', 'largest')],
        order: [{ column: 'c_mites', direction: 'down' as const }],
      },
      sql: `SELECT place, count(*), sum(mites), max(date) FROM "${schema}".visits WHERE stores = 'full' AND mites > 5 GROUP BY place ORDER BY 3 DESC NULLS LAST, 1 LIMIT 200`,
    },
    {
      what: 'the 200 largest of 1,000,000',
      query: {
        condition: 'Queen = true',
        columns: [column('c_code', 'Code'), column('c_amount', 'Amount')],
        order: [{ column: 'c_amount', direction: 'down' as const }],
      },
      sql: `SELECT id, code, amount FROM "${schema}".visits WHERE queen ORDER BY amount DESC NULLS LAST, id LIMIT 200`,
    },
  ];
  const lines: Line[] = [];
  for (const each of asked) {
    const read = readQuery({ id: 'q_bench', name: 'Bench', description: '', section: '', table: 'visits', limit: null, ...each.query }, design);
    if (!read.ok) throw new Error(read.problems[0]?.message);
    const statement = compileResult([restrict(read.asked, design, builder, Date.now()), design, schema], { limit: 200 });
    const [a, b] = await compare(bench, statement, { text: each.sql, params: [] });
    const [our, their] = [await planOf(bench, statement.text, statement.params), await planOf(bench, each.sql, [])];
    const steps = our.replace(/^(Subquery Scan|WindowAgg|Sort|, )+/u, '');
    lines.push({
      what: each.what,
      ours: `${a.toFixed(1)} ms`,
      theirs: `the SELECT by hand ${b.toFixed(1)} ms`,
      ratio: a / b,
      budget: '≤ 1.1, same plan',
      also: steps.endsWith(their) ? 'same plan below the numbering of the rows' : `plans differ: ${our} / ${their}`,
    });
  }
  return lines;
}

/** Rows of a query as someone goes through them at the Desk. */
async function picked(bench: Bench, design: AppDesign, schema: string): Promise<Line[]> {
  const columns = [
    column('c_code', 'Code'),
    column('c_place', 'Place'),
    column('c_stores', 'Stores'),
    column('c_queen', 'Queen'),
    column('c_amount', 'Amount'),
  ];
  const order = [{ column: 'c_code', direction: 'up' as const }];
  const read = readQuery({ id: 'q_bench', name: 'Bench', description: '', section: '', table: 'visits', limit: null, condition: '', columns, order }, design);
  if (!read.ok) throw new Error(read.problems[0]?.message);
  const source = [restrict(read.asked, design, builder, Date.now()), design, schema] as const;
  const from = `FROM "${schema}".visits`;
  const low = { search: '', narrowed: [{ column: 'c_stores', values: ['Low'] }] };
  const asked = [
    {
      what: 'the first 100 of 1,000,000 rows of a query, picked by a value',
      ours: compileResult(source, { limit: 100, picked: low }),
      sql: `SELECT id, code, place, stores, queen, amount ${from} WHERE stores = 'low' ORDER BY code, id LIMIT 100`,
    },
    {
      what: '100 rows of a query after 9,900 others',
      ours: compileResult(source, { limit: 100, skip: 9900 }),
      sql: `SELECT id, code, place, stores, queen, amount ${from} ORDER BY code, id LIMIT 100 OFFSET 9900`,
    },
    {
      what: 'by which values 1,000,000 rows of a query can be picked',
      ours: compilePickable(source, everyRow),
      sql: ['code', 'place', 'stores', 'queen']
        .map((name) => `(SELECT ${name}::text, count(*) ${from} GROUP BY 1 ORDER BY 2 DESC LIMIT 13)`)
        .join(' UNION ALL '),
    },
    {
      what: 'groups of 1,000,000 rows of a query by two columns, with a count',
      ours: compileResultGroups(source, ['c_place', 'c_stores'], [], everyRow, 501),
      sql: ['', ' GROUP BY place', ' GROUP BY place, stores'].map((by) => `(SELECT min(place), min(stores), count(*) ${from}${by})`).join(' UNION ALL '),
    },
  ];
  const lines: Line[] = [];
  for (const { what, ours, sql } of asked) {
    const [a, b] = await compare(bench, ours, { text: sql, params: [] });
    lines.push({ what, ours: `${a.toFixed(1)} ms`, theirs: `the SELECT by hand ${b.toFixed(1)} ms`, ratio: a / b, budget: 'recorded', also: '' });
  }
  return lines;
}

/** The next page of a list, as someone sees it who is granted a part of the records without one of their fields. */
async function restricted(bench: Bench, design: AppDesign, schema: string): Promise<Line[]> {
  const grant = {
    id: 'g_bench',
    table: 'visits',
    see: true,
    add: false,
    change: false,
    remove: false,
    export: false,
    condition: 'Stores != "Low"',
    hidden: ['b_amount'],
    locked: [],
  };
  const changed = applyChanges(design, [
    { kind: 'put', part: 'role', value: { id: 'r_bench', name: 'Bench', description: '', everything: false, menu: [], grants: [grant] } },
  ]);
  if (!changed.ok) throw new Error('The role does not fit');
  const member: Person = { ...builder, role: 'member', roles: ['r_bench'], ties: {} };
  const columns = design.tables[0]?.fields.map((field) => field.id) ?? [];
  const query = queryOf('visits', { columns, sort: { field: 'b_date', direction: 'up' }, after: { value: '2023-01-01', id: 5 }, limit: 100 });
  const page = (person: Person): Statement => compilePage(restrict(query, changed.design, person, Date.now()), changed.design, schema);
  const [with_, without] = [page(member), page(builder)];
  const [a, b] = await compare(bench, with_, without);
  const [our, their] = [await planOf(bench, with_.text, with_.params), await planOf(bench, without.text, without.params)];
  return [
    {
      what: 'a page of 1,000,000 with access rules',
      ours: `${a.toFixed(2)} ms`,
      theirs: `without rules ${b.toFixed(2)} ms`,
      ratio: a / b,
      budget: '≤ 1.3, same index',
      also: our === their ? 'same plan' : `plans differ: ${our} / ${their}`,
    },
  ];
}
