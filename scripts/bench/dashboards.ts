import type { Tile } from '@bibliona/core';
import pg from 'pg';
import { fill, makeTable, median, time, type Bench, type Line } from './bench.js';

const rows = Number(process.env['BENCH_ROWS'] ?? 1_000_000);
const runs = 7;
const place = { x: 0, y: 0, w: 4, h: 4 };
const column = (id: string, expression: string, summary: 'sum' | 'count' | null = null) => ({ id, name: id, expression, summary, digits: null });
const source = (columns: readonly ReturnType<typeof column>[], condition = '') =>
  ({ kind: 'table', table: 'visits', condition, columns: [...columns] }) as const;
const figure = (id: string, of: string, summary: 'sum' | 'average' | 'count'): Tile => ({
  kind: 'figure',
  id,
  name: id,
  place,
  source: source(of === '' ? [] : [column('c_of', of)], 'Mites > 5'),
  column: of === '' ? null : 'c_of',
  summary,
  target: null,
  judgement: null,
});
const chart = (id: string, kind: 'bars' | 'line', by: string, of: string): Tile => ({
  kind,
  id,
  name: id,
  place,
  source: source([column('c_by', by), column('c_of', of, of === '' ? 'count' : 'sum')]),
  label: 'c_by',
  value: 'c_of',
  order: 'label',
  most: 100,
});

const asked = (schema: string): readonly { readonly tile: Tile; readonly sql: string }[] => {
  const visits = `"${schema}".visits`;
  return [
    { tile: figure('ti_count', '', 'count'), sql: `SELECT count(*) FROM ${visits} WHERE mites > 5` },
    { tile: figure('ti_sum', 'Amount', 'sum'), sql: `SELECT count(*), sum(amount) FROM ${visits} WHERE mites > 5` },
    { tile: figure('ti_mean', 'Mites', 'average'), sql: `SELECT count(*), avg(mites) FROM ${visits} WHERE mites > 5` },
    { tile: chart('ti_stores', 'bars', 'Stores', 'Amount'), sql: `SELECT stores, sum(amount) FROM ${visits} GROUP BY 1 ORDER BY 1` },
    { tile: chart('ti_place', 'bars', 'Place', ''), sql: `SELECT place, count(*) FROM ${visits} GROUP BY 1 ORDER BY 1` },
    {
      tile: chart('ti_month', 'line', 'date(Date.year, Date.month, 1)', 'Bees'),
      sql: `SELECT make_date(extract(year FROM date)::int, extract(month FROM date)::int, 1), sum(bees) FROM ${visits} GROUP BY 1 ORDER BY 1`,
    },
  ];
};

/** Six tiles over a million records, asked at once as a dashboard does, after a write and again, against the six statements at once. */
export async function benchDashboards(bench: Bench): Promise<Line[]> {
  const { app, schema } = await makeTable(bench, 'Dashboard');
  await fill(bench, schema, rows);
  await bench.client.query(`VACUUM ANALYZE "${schema}".visits`);
  const tiles = asked(schema);
  const dashboard = { id: 'da_bench', name: 'Bench', description: '', section: '', tiles: tiles.map((tile) => tile.tile) };
  await bench.call('POST', `/api/apps/${app.id}/changes`, { version: app.version, changes: [{ kind: 'put', part: 'dashboard', value: dashboard }] });
  const pool = new pg.Pool({ connectionString: bench.url, max: tiles.length });
  const [ours, again, theirs]: [number[], number[], number[]] = [[], [], []];
  const open = (): Promise<unknown> => Promise.all(tiles.map(({ tile }) => bench.call('GET', `/api/apps/${app.id}/dashboards/da_bench/tiles/${tile.id}`)));
  for (let i = 0; i < runs; i += 1) {
    const write = { kind: 'add', table: 'visits', as: 'v', values: { b_code: `C-new-${i}` } };
    await bench.call('POST', `/api/apps/${app.id}/save`, { key: crypto.randomUUID(), writes: [write] });
    ours.push(await time(open));
    again.push(await time(open));
    theirs.push(await time(() => Promise.all(tiles.map(({ sql }) => pool.query(sql)))));
  }
  await pool.end();
  const [a, b, warm] = [median(ours), median(theirs), median(again)];
  return [
    {
      what: 'the same dashboard, with nothing written since',
      ours: `${warm.toFixed(1)} ms`,
      theirs: `after a write ${a.toFixed(0)} ms`,
      ratio: warm / a,
      budget: '< 30 ms',
      also: 'over HTTP; whether anything was written is asked for each tile',
    },
    {
      what: 'dashboard of 6 tiles over 1,000,000',
      ours: `${a.toFixed(0)} ms`,
      theirs: `the six statements at once ${b.toFixed(0)} ms`,
      ratio: a / b,
      budget: '≤ 1.2',
      also: 'over HTTP, after a write each time',
    },
  ];
}
