/** Files in and out besides adding rows: matching rows change records, lists are saved, workbooks and JSON are read. */
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { createWriteStream } from 'node:fs';
import { stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ExportFormatName, OpenApp } from '@bibliona/core';
import { planFor, settled, surveyed } from './import.js';
import { fill, headings, makeTable, median, row, type Bench, type Line } from './bench.js';

const rows = Number(process.env['BENCH_ROWS'] ?? 1_000_000);
const changed = rows / 10;
const runs = 3;

export async function benchExchange(bench: Bench): Promise<Line[]> {
  const { app, schema } = await makeTable(bench, 'Exchanged');
  await fill(bench, schema, rows);
  await bench.client.query(`CREATE TABLE public.by_hand AS SELECT * FROM "${schema}".visits`);
  await bench.client.query('ALTER TABLE public.by_hand ADD PRIMARY KEY (id)');
  await bench.client.query(`ANALYZE "${schema}".visits`);
  await bench.client.query('ANALYZE public.by_hand');
  const lines = [await benchMatching(bench, app), ...(await benchSaved(bench, app, schema)), ...(await benchRead(bench, app))];
  await bench.client.query('DROP TABLE public.by_hand');
  return lines;
}

/** A tenth of the records gets another weight, by code. */
async function benchMatching(bench: Bench, app: OpenApp): Promise<Line> {
  const [ours, theirs, undone]: number[][] = [[], [], []];
  for (let i = 0; i < runs; i += 1) {
    const file = join(bench.root, '.data', 'bench-files', 'weights.csv');
    await writeFile(file, `${headings[0]},${headings[4]}\n${Array.from({ length: changed }, (_, n) => `C-${n * 10},${100 + i}`).join('\n')}\n`);
    theirs?.push(await psql(bench, updateByHand(file)));
    const { path, survey } = await surveyed(bench, app, file);
    const plan = { ...planFor(app, survey), matching: { mode: 'update', by: [fieldNamed(app, headings[0])], isLoose: true } };
    const from = performance.now();
    await bench.call('POST', `${path}/run`, { version: app.version, plan });
    const answer = await settled(bench, path);
    if (answer.state !== 'done' || answer.changed !== changed) throw new Error(`the import ended as ${answer.state}: ${answer.changed} changed`);
    ours?.push((performance.now() - from) / 1000);
    const back = performance.now();
    await bench.call('POST', `${path}/take-back`, { others: false });
    undone?.push((performance.now() - back) / 1000);
    console.log(`  run ${i + 1}: ${ours?.at(-1)?.toFixed(1)} s against ${theirs?.at(-1)?.toFixed(1)} s, undone in ${undone?.at(-1)?.toFixed(1)} s`);
  }
  const [a, b] = [median(ours ?? []), median(theirs ?? [])];
  return {
    what: `change ${changed.toLocaleString('en-GB')} of ${rows.toLocaleString('en-GB')} records by the rows of a file`,
    ours: `${a.toFixed(1)} s`,
    theirs: `\\copy and UPDATE … FROM, without checks and history, ${b.toFixed(1)} s`,
    ratio: a / b,
    budget: '≤ 1.5',
    also: `undone as a whole in ${median(undone ?? []).toFixed(1)} s`,
  };
}

const fieldNamed = (app: OpenApp, name = ''): string => app.design.tables[0]?.fields.find((field) => field.name === name)?.id ?? '';

const updateByHand = (file: string): readonly string[] => [
  'BEGIN',
  'CREATE TEMP TABLE given (code text, value numeric) ON COMMIT DROP',
  `\\copy given FROM '${file}' CSV HEADER`,
  `UPDATE public.by_hand AS t SET "${headings[4]?.toLowerCase()}" = given.value, rev = rev + 1, updated_at = now() FROM given WHERE t."${headings[0]?.toLowerCase()}" = given.code`,
  'COMMIT',
];

async function psql(bench: Bench, commands: readonly string[]): Promise<number> {
  const from = performance.now();
  const child = spawn('psql', [bench.url, '-q', '-v', 'ON_ERROR_STOP=1', ...commands.flatMap((command) => ['-c', command])], { stdio: 'inherit' });
  const [code] = (await once(child, 'exit')) as [number];
  if (code !== 0) throw new Error(`psql failed at ${commands.join('; ')}`);
  return (performance.now() - from) / 1000;
}

const pathOf = (bench: Bench, format: ExportFormatName): string => join(bench.root, '.data', 'bench-files', `saved.${format}`);

async function benchSaved(bench: Bench, app: OpenApp, schema: string): Promise<Line[]> {
  const columns = headings.map((name) => `"${name.toLowerCase()}"`).join(', ');
  const theirs = await psql(bench, [`\\copy (SELECT id, ${columns} FROM "${schema}".visits ORDER BY id) TO '${pathOf(bench, 'csv')}' CSV HEADER`]);
  const lines: Line[] = [];
  for (const format of ['csv', 'json', 'xlsx'] as const) {
    const from = performance.now();
    const response = await fetch(`${bench.address}/api/apps/${app.id}/tables/visits/export?format=${format}`, { headers: { cookie: bench.cookie } });
    if (!response.ok || response.body === null) throw new Error(`saving as ${format} answered ${response.status}`);
    await pipeline(Readable.fromWeb(response.body), createWriteStream(pathOf(bench, format)));
    const ours = (performance.now() - from) / 1000;
    const { size } = await stat(pathOf(bench, format));
    lines.push({
      what: `save ${rows.toLocaleString('en-GB')} records × 12 columns as ${format.toUpperCase()}`,
      ours: `${ours.toFixed(1)} s`,
      theirs: `\\copy to CSV ${theirs.toFixed(1)} s`,
      ratio: ours / theirs,
      budget: format === 'csv' ? '≤ 1.5' : '',
      also: `${(size / 1e6).toFixed(0)} MB`,
    });
  }
  return lines;
}

/** Looking through a tenth of the rows, as a workbook and as JSON, against the same as CSV. */
async function benchRead(bench: Bench, app: OpenApp): Promise<Line[]> {
  const csv = join(bench.root, '.data', 'bench-files', 'tenth.csv');
  const out = createWriteStream(csv);
  out.write(`${headings.join(',')}\n`);
  for (let n = 0; n < changed; n += 1) if (!out.write(row(n))) await once(out, 'drain');
  out.end();
  await once(out, 'finish');
  const { app: small, schema } = await makeTable(bench, 'Tenth');
  await fill(bench, schema, changed);
  const theirs = (await surveyed(bench, app, csv)).seconds;
  const lines: Line[] = [];
  for (const format of ['json', 'xlsx'] as const) {
    const response = await fetch(`${bench.address}/api/apps/${small.id}/tables/visits/export?format=${format}`, { headers: { cookie: bench.cookie } });
    await writeFile(pathOf(bench, format), Buffer.from(await response.arrayBuffer()));
    const { seconds, survey } = await surveyed(bench, small, pathOf(bench, format));
    if (survey.rows !== changed) throw new Error(`${survey.rows} rows were read`);
    lines.push({
      what: `look through ${changed.toLocaleString('en-GB')} rows × 13 columns of ${format.toUpperCase()}`,
      ours: `${seconds.toFixed(1)} s`,
      theirs: `CSV ${theirs.toFixed(1)} s`,
      ratio: seconds / theirs,
      budget: '',
      also: '',
    });
  }
  return lines;
}
