import autocannon from 'autocannon';
import { fill, makeTable, median, openBare, type Bench, type Line } from './bench.js';

const rows = Number(process.env['BENCH_ROWS'] ?? 1_000_000);
const [runs, seconds] = [5, 2];

/** Pages of a list of a million records over HTTP, with access rules, against the same SELECT sent by pg alone. */
export async function benchList(bench: Bench): Promise<Line[]> {
  const { app, schema } = await makeTable(bench, 'Listed', 'date');
  await fill(bench, schema, rows);
  await bench.client.query(`VACUUM ANALYZE "${schema}".visits`);
  const columns = `id, rev, code, keeper, place, number, mites, bees, warmth::text, amount::text, date::text, next::text, queen, stores`;
  const words = `(COALESCE(code, '') || ' ' || COALESCE(keeper, '') || ' ' || COALESCE(place, ''))`;
  const first = (await bench.call('GET', `/api/apps/${app.id}/tables/visits/page?sort=b_date`)) as { next: { value: string; id: number } };
  const after = encodeURIComponent(JSON.stringify(first.next));
  const compared = [
    { what: 'first page of 1,000,000', path: 'sort=b_date', sql: `SELECT ${columns} FROM "${schema}".visits AS t ORDER BY t.date, t.id LIMIT 101`, values: [] },
    {
      what: 'next page of 1,000,000',
      path: `sort=b_date&after=${after}`,
      sql: `SELECT ${columns} FROM "${schema}".visits AS t WHERE t.date >= $1 AND (t.date > $1 OR t.id > $2) ORDER BY t.date, t.id LIMIT 101`,
      values: [first.next.value, first.next.id],
    },
    {
      what: 'search in 1,000,000',
      path: 'search=Dunlin%20Edge%201234',
      sql: `SELECT ${columns} FROM "${schema}".visits WHERE ${['Dunlin', 'Edge', '1234'].map((word) => `${words} ILIKE '%${word}%'`).join(' AND ')} ORDER BY id LIMIT 101`,
      values: [],
    },
  ];
  const bare = await openBare(bench, schema);
  const lines: Line[] = [];
  for (const each of compared) {
    const [ours, theirs, floor]: [number[], number[], number[]] = [[], [], []];
    for (let i = 0; i < runs; i += 1) {
      ours.push(await overHttp(`${bench.address}/api/apps/${app.id}/tables/visits/page?${each.path}`, bench.cookie));
      theirs.push(await byPg(bench, each.sql, each.values));
      floor.push(await overHttp(`${bare.address}/rows?asked=${encodeURIComponent(JSON.stringify({ sql: each.sql, values: each.values }))}`, ''));
    }
    const [a, b, c] = [median(ours), median(theirs), median(floor)];
    lines.push({
      what: each.what,
      ours: `${a.toFixed(1)} ms`,
      theirs: `the SELECT by pg ${b.toFixed(1)} ms`,
      ratio: a / b,
      budget: each.what.startsWith('search') ? '< 50 ms' : '≤ 3, < 20 ms',
      also: `over HTTP without compression, with session and access; the same SELECT over HTTP with nothing but Koa and pg takes ${c.toFixed(1)} ms, of which this is ${(a / c).toFixed(2)}`,
    });
  }
  bare.close();
  return lines;
}

/** Milliseconds for one answer, asked one after the other by a client that costs next to nothing itself. */
async function overHttp(url: string, cookie: string): Promise<number> {
  const result = await autocannon({ url, connections: 1, duration: seconds, headers: { cookie, 'accept-encoding': 'identity' } });
  if (result.non2xx > 0 || result.errors > 0) throw new Error('a page was refused');
  return 1000 / result.requests.average;
}

async function byPg(bench: Bench, sql: string, values: readonly unknown[]): Promise<number> {
  const from = performance.now();
  let done = 0;
  for (; performance.now() - from < seconds * 1000; done += 1) await bench.client.query(sql, [...values]);
  return (performance.now() - from) / done;
}
