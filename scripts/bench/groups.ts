import { plainList, type List } from '@bibliona/core';
import { fill, makeTable, median, time, type Bench, type Line } from './bench.js';

const rows = Number(process.env['BENCH_ROWS'] ?? 1_000_000);
const runs = 5;
const sideBySide = 'ours are asked side by side, those by pg one after the other';

/** Groups, sums and quick filters of a list of a million records over HTTP, against the same questions in SQL by hand. */
export async function benchGroups(bench: Bench): Promise<Line[]> {
  const { app, schema } = await makeTable(bench, 'Grouped');
  await fill(bench, schema, rows);
  await bench.client.query(`VACUUM ANALYZE "${schema}".visits`);
  const value: List = {
    ...plainList,
    ...{ id: 'li_groups', table: 'visits', name: 'Grouped', roles: [], isDefault: false, columns: ['b_code'] },
    order: [
      { field: 'b_stores', direction: 'down' },
      { field: 'b_date', direction: 'up' },
    ],
    groupBy: ['b_stores', 'b_date'],
    sums: ['b_amount', 'b_mites'],
    quickFilters: ['b_stores', 'b_queen', 'b_place'],
  };
  await bench.call('POST', `/api/apps/${app.id}/changes`, { version: app.version, changes: [{ kind: 'put', part: 'list', value }] });
  const visits = `"${schema}".visits`;
  const month = `date_trunc('month', date)::date`;
  const sums = 'count(*), sum(amount), sum(mites)';
  const compared = [
    {
      what: 'groups with sums of 1,000,000',
      path: 'groups?list=li_groups',
      sql: [
        `SELECT ${sums} FROM ${visits}`,
        `SELECT stores, ${sums} FROM ${visits} GROUP BY 1`,
        `SELECT stores, ${month}, ${sums} FROM ${visits} GROUP BY 1, 2`,
      ],
      budget: '≤ 1.2',
      also: sideBySide,
    },
    {
      what: 'quick filters of 1,000,000',
      path: 'quick-filters?list=li_groups',
      sql: ['stores', 'queen', 'place'].map((column) => `SELECT ${column}, count(*) AS n FROM ${visits} GROUP BY 1 ORDER BY n DESC LIMIT 51`),
      budget: '≤ 1.2',
      also: sideBySide,
    },
    {
      what: 'first page of 1,000,000 in two orders',
      path: 'page?list=li_groups',
      sql: [`SELECT * FROM ${visits} ORDER BY stores DESC NULLS LAST, date ASC NULLS LAST, id LIMIT 101`],
      budget: '≤ 3',
      also: 'no index serves it: the place of a choice among the others is worked out for each record',
    },
    {
      what: 'first page of 1,000,000 narrowed to one value',
      path: `page?narrowed=${encodeURIComponent(JSON.stringify([{ field: 'b_queen', values: [true] }]))}`,
      sql: [`SELECT * FROM ${visits} WHERE queen ORDER BY id LIMIT 101`],
      budget: '< 300 ms',
      also: '',
    },
  ];
  const lines: Line[] = [];
  for (const each of compared) {
    const [ours, theirs]: [number[], number[]] = [[], []];
    for (let i = 0; i < runs; i += 1) {
      ours.push(await time(() => bench.call('GET', `/api/apps/${app.id}/tables/visits/${each.path}`)));
      theirs.push(
        await time(async () => {
          for (const sql of each.sql) await bench.client.query(sql);
        }),
      );
    }
    const [a, b] = [median(ours), median(theirs)];
    lines.push({
      what: each.what,
      ours: `${a.toFixed(0)} ms`,
      theirs: `${each.sql.length === 1 ? 'the SELECT' : `${each.sql.length} SELECTs`} by pg ${b.toFixed(0)} ms`,
      ratio: a / b,
      budget: each.budget,
      also: each.also,
    });
  }
  return lines;
}
