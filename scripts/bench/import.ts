import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { createReadStream, createWriteStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { join } from 'node:path';
import { request } from 'node:http';
import { plainMatching, suggestPlan, type AppDesign, type FileSurvey, type ImportAnswer, type ImportPlan, type OpenApp } from '@bibliona/core';
import { headings, makeTable, median, memoryOf, pause, quantile, row, type Bench, type Line } from './bench.js';

const rows = Number(process.env['BENCH_ROWS'] ?? 1_000_000);
const runs = 5;

/** An import of a million rows, every cell checked, against PostgreSQL's own \copy of the same file into the same table. */
export async function benchImport(bench: Bench): Promise<Line[]> {
  const file = join(bench.root, '.data', 'bench-files', `visits-${rows}.csv`);
  await writeFile(file);
  const [ours, theirs, waits, growths, surveys]: number[][] = [[], [], [], [], []];
  for (let i = 0; i < runs; i += 1) {
    const copied = await makeTable(bench, `Copied ${i}`);
    theirs?.push(await copy(bench.url, copied.schema, file));
    await bench.client.query(`DROP SCHEMA "${copied.schema}" CASCADE`);
    const imported = await runImport(bench, `Imported ${i}`, file);
    ours?.push(imported.seconds);
    surveys?.push(imported.surveySeconds);
    waits?.push(...imported.waits);
    growths?.push(imported.growth);
    console.log(`  run ${i + 1}: ${imported.seconds.toFixed(1)} s against ${(theirs?.at(-1) ?? 0).toFixed(1)} s`);
  }
  const [a, b] = [median(ours ?? []), median(theirs ?? [])];
  const also = `server memory + ${Math.max(...(growths ?? [])).toFixed(0)} MB (budget 300), other requests p99 ${quantile(waits ?? [], 0.99).toFixed(0)} ms (budget 100), looking through the file first ${median(surveys ?? []).toFixed(1)} s`;
  return [
    {
      what: `import ${rows.toLocaleString('en-GB')} rows × 12 columns`,
      ours: `${a.toFixed(1)} s`,
      theirs: `\\copy ${b.toFixed(1)} s`,
      ratio: a / b,
      budget: '≤ 1.5',
      also,
    },
  ];
}

async function writeFile(path: string): Promise<void> {
  if ((await stat(path).catch(() => null)) !== null) return;
  const out = createWriteStream(path);
  out.write(`${headings.join(',')}\n`);
  for (let n = 0; n < rows; n += 1) if (!out.write(row(n))) await once(out, 'drain');
  out.end();
  await once(out, 'finish');
}

async function copy(url: string, schema: string, file: string): Promise<number> {
  const started = performance.now();
  const columns = headings.map((name) => `"${name.toLowerCase()}"`).join(', ');
  const psql = spawn('psql', [url, '-q', '-v', 'ON_ERROR_STOP=1', '-c', `\\copy "${schema}".visits (${columns}) FROM '${file}' CSV HEADER`], {
    stdio: 'inherit',
  });
  const [code] = (await once(psql, 'exit')) as [number];
  if (code !== 0) throw new Error('\\copy failed');
  return (performance.now() - started) / 1000;
}

async function runImport(bench: Bench, name: string, file: string) {
  const { app, schema } = await makeTable(bench, name);
  const { path, survey, seconds: surveySeconds } = await surveyed(bench, app, file);
  const plan = planFor(app, survey);
  const before = memoryOf(bench.serverPid);
  let [most, isDone] = [before, false];
  const waits: number[] = [];
  const others = (async () => {
    while (!isDone) {
      const from = performance.now();
      await bench.call('GET', '/api/apps');
      waits.push(performance.now() - from);
      most = Math.max(most, memoryOf(bench.serverPid));
      await pause(50);
    }
  })();
  const started = performance.now();
  await bench.call('POST', `${path}/run`, { version: app.version, plan });
  const answer = await settled(bench, path);
  const seconds = (performance.now() - started) / 1000;
  isDone = true;
  await others;
  if (answer.state !== 'done' || answer.added !== rows) throw new Error(`the import ended as ${answer.state}: ${answer.message ?? ''}`);
  await bench.client.query(`TRUNCATE "${schema}".visits`);
  return { seconds, surveySeconds, waits, growth: most - before };
}

/** Sends a file and waits until it has been looked through. */
export async function surveyed(
  bench: Bench,
  app: OpenApp,
  file: string,
): Promise<{ readonly path: string; readonly survey: FileSurvey; readonly seconds: number }> {
  const uploaded = await upload(bench, `/api/apps/${app.id}/imports?name=Visits.csv`, file);
  const path = `/api/apps/${app.id}/imports/${uploaded.id}`;
  const from = performance.now();
  const { survey } = await settled(bench, path);
  if (survey === null) throw new Error('the file was not read');
  return { path, survey, seconds: (performance.now() - from) / 1000 };
}

/** Each column into the field of its name. */
export const planFor = (app: OpenApp, survey: FileSurvey): ImportPlan => ({
  reading: survey.reading,
  target: { kind: 'table', table: 'visits' },
  columns: suggestPlan(survey.columns, app.design as AppDesign, 'visits', () => 'unused'),
  badCells: 'refuse',
  matching: plainMatching,
  emptyCells: 'empty',
  things: [],
  computed: [],
});

export async function settled(bench: Bench, path: string): Promise<ImportAnswer> {
  for (;;) {
    const answer = (await bench.call('GET', path)) as ImportAnswer;
    if (answer.state !== 'reading' && answer.state !== 'running') return answer;
    await pause(100);
  }
}

async function upload(bench: Bench, path: string, file: string): Promise<ImportAnswer> {
  const sending = request(`${bench.address}${path}`, { method: 'POST', headers: { cookie: bench.cookie, 'content-type': 'application/octet-stream' } });
  createReadStream(file).pipe(sending);
  const [response] = (await once(sending, 'response')) as [NodeJS.ReadableStream];
  let text = '';
  for await (const chunk of response) text += String(chunk);
  return JSON.parse(text) as ImportAnswer;
}
