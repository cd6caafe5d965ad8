/** What the benchmarks share: a cluster of their own, a server in a process of its own, medians. */
import { fork, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { mkdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { contract, type DesignChange, type FieldPlan, type OpenApp } from '@bibliona/core';
import pg from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import { newToken, tokenHash } from '../../server/src/people/people.js';
import { ensureDatabase, openCluster, type Cluster } from '../cluster.js';
import { buildServer } from '../server-build.js';

export interface Line {
  readonly what: string;
  readonly ours: string;
  readonly theirs: string;
  readonly ratio: number;
  readonly budget: string;
  readonly also: string;
}

export interface Bench {
  readonly root: string;
  readonly url: string;
  readonly address: string;
  readonly cookie: string;
  readonly client: pg.Client;
  readonly serverPid: number;
  readonly call: (method: 'GET' | 'POST', path: string, body?: unknown, cookie?: string) => Promise<unknown>;
  readonly close: () => Promise<void>;
}

const mail = 'bench@quillmoor.example';
const password = 'a long enough password';

/** Starts with an empty database, on PostgreSQL's own settings for safety: what is confirmed is on disk. */
export async function openBench(root: string): Promise<Bench> {
  const cluster: Cluster = await openCluster(root, 'bench');
  const admin = new pg.Client({ connectionString: cluster.url('postgres') });
  await admin.connect();
  await admin.query('DROP DATABASE IF EXISTS bench WITH (FORCE)');
  await admin.end();
  const url = await ensureDatabase(cluster, 'bench');
  const files = join(root, '.data', 'bench-files');
  mkdirSync(files, { recursive: true });
  const child: ChildProcess = fork(join(await buildServer(root), 'main.js'), {
    execArgv: [],
    env: { ...process.env, DATABASE_URL: url, PORT: '0', FILES: files, WEB: '', LOG: 'error' },
    stdio: ['ignore', 'pipe', 'inherit', 'ipc'],
  });
  let said = '';
  child.stdout?.on('data', (chunk: Buffer) => (said += chunk.toString()));
  const address = await new Promise<string>((resolve) => child.once('message', (message: { address: string }) => resolve(message.address)));
  while (!said.includes('set-up#')) await pause(20);
  const key = /set-up#(\S+)/u.exec(said)?.[1];
  const response = await fetch(`${address}${contract.setUp.path}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ key, name: 'Bench', email: mail, password }),
  });
  const cookie = response.headers
    .getSetCookie()
    .map((each) => each.split(';')[0])
    .join('; ');
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  return {
    root,
    url,
    address,
    cookie,
    client,
    serverPid: child.pid ?? 0,
    call: async (method, path, body, by = cookie) => {
      const answer = await fetch(`${address}${path}`, {
        method,
        headers: { cookie: by, ...(body === undefined ? {} : { 'content-type': 'application/json' }) },
        ...(body === undefined ? {} : { body: JSON.stringify(body) }),
      });
      if (!answer.ok) throw new Error(`${path}: ${await answer.text()}`);
      return answer.json();
    },
    close: async () => {
      await client.end();
      const gone = new Promise((resolve) => child.once('exit', resolve));
      child.kill('SIGTERM');
      await gone;
      await cluster.stop();
    },
  };
}

export const pause = (milliseconds: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, milliseconds));

export function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.floor(sorted.length / 2)] ?? NaN;
}
export const quantile = (values: readonly number[], part: number): number =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(values.length * part))] ?? NaN;

/** Memory that a process holds, in MB. */
export const memoryOf = (pid: number): number => Number(/VmRSS:\s+(\d+)/u.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;

const common = { description: '', required: false, unique: false, default: null } as const;
const choices = ['low', 'fair', 'full'].map((id) => ({ id, label: id[0]?.toUpperCase() + id.slice(1) }));
/** Twelve fields of every kind that a file can fill by itself. */
const fields: readonly FieldPlan[] = [
  { ...common, kind: 'text', id: 'b_code', name: 'Code', required: true },
  { ...common, kind: 'text', id: 'b_keeper', name: 'Keeper' },
  { ...common, kind: 'text', id: 'b_place', name: 'Place' },
  { ...common, kind: 'whole', id: 'b_number', name: 'Number' },
  { ...common, kind: 'whole', id: 'b_mites', name: 'Mites' },
  { ...common, kind: 'whole', id: 'b_bees', name: 'Bees' },
  { ...common, kind: 'decimal', digits: 1, id: 'b_warmth', name: 'Warmth' },
  { ...common, kind: 'decimal', digits: 2, id: 'b_amount', name: 'Amount' },
  { ...common, kind: 'date', id: 'b_date', name: 'Date' },
  { ...common, kind: 'date', id: 'b_next', name: 'Next' },
  { ...common, kind: 'yes_no', unique: false, id: 'b_queen', name: 'Queen' },
  { ...common, kind: 'choice', unique: false, id: 'b_stores', name: 'Stores', choices },
];
export const headings = fields.map((field) => field.name);

const day = (n: number): string => new Date(Date.UTC(2020, 0, 1) + (n % 2500) * 86_400_000).toISOString().slice(0, 10);
const words = ['Brackmoor', 'Heron Mere', 'Kiln Lane', 'Dunlin Edge', 'Cold Spring', 'Ashby Bank', 'Pike Hollow', 'Mallow Fen'];

/** One row of the file; the choice stands as its id, so that \copy can read the same file. */
export function row(n: number): string {
  const spread = Math.imul(n, 2_654_435_761) >>> 0;
  return `C-${n},${words[spread % 8] ?? ''} ${spread % 9973},${words[(spread >>> 8) % 8] ?? ''},${spread % 1_000_000},${spread % 40},${300 - (spread % 7)},${(spread % 400) / 10},${((spread % 1_000_003) / 100).toFixed(2)},${day(spread)},${day(spread >>> 5)},${spread % 3 === 0 ? 'yes' : 'no'},${['low', 'fair', 'full'][spread % 3] ?? ''}\n`;
}

/** A new app with one table of those fields. */
export async function makeTable(bench: Bench, name: string, sort?: string): Promise<{ readonly app: OpenApp; readonly schema: string }> {
  const app = (await bench.call('POST', '/api/apps', { name })) as OpenApp;
  const changes: DesignChange[] = [
    { kind: 'add_table', id: 'visits', name: 'Visits', description: '', section: '', form: 'fm_v', list: 'l_v', fields: [...fields] },
  ];
  const open = (await bench.call('POST', `/api/apps/${app.id}/changes`, { version: 1, changes })) as OpenApp;
  if (sort !== undefined) await bench.client.query(`CREATE INDEX ON "app_${app.id}".visits (${sort}, id)`);
  return { app: open, schema: `app_${app.id}` };
}

/** The cookie of someone new in an app, who is signed in. */
export async function personIn(bench: Bench, app: string, name: string, role: 'builder' | 'member', roles: readonly string[] = []): Promise<string> {
  const token = newToken();
  const { rows } = await bench.client.query<{ id: number }>(`INSERT INTO bibliona.person (email, name, password_hash) VALUES ($1, $2, '') RETURNING id`, [
    `${name}@quillmoor.example`,
    name,
  ]);
  const person = rows[0]?.id;
  await bench.client.query('INSERT INTO bibliona.app_person (app_id, person_id, role, roles) VALUES ($1, $2, $3, $4)', [app, person, role, roles]);
  await bench.client.query(`INSERT INTO bibliona.session (token_hash, person_id, expires_at) VALUES ($1, $2, now() + interval '1 day')`, [
    tokenHash(token),
    person,
  ]);
  return bench.cookie.replace(/=[^;]*/u, `=${token}`);
}

/** So many rows into the table of `makeTable`. */
export async function fill(bench: Bench, schema: string, rows: number): Promise<void> {
  const stream = bench.client.query(copyFrom(`COPY "${schema}".visits (${headings.map((name) => `"${name.toLowerCase()}"`).join(', ')}) FROM STDIN CSV`));
  for (let n = 0; n < rows; n += 1) if (!stream.write(row(n))) await once(stream, 'drain');
  stream.end();
  await once(stream, 'finish');
}

/** A server with nothing but Koa and pg beside the one that is measured: see `bare-server.ts`. */
export async function openBare(bench: Bench, schema: string): Promise<{ readonly address: string; readonly close: () => void }> {
  const bare = fork(fileURLToPath(new URL('./bare-server.ts', import.meta.url)), {
    execArgv: ['--import', 'tsx'],
    env: { ...process.env, DATABASE_URL: bench.url, SCHEMA: schema },
  });
  const [{ port }] = (await once(bare, 'message')) as [{ port: number }];
  return { address: `http://127.0.0.1:${port}`, close: () => void bare.kill() };
}

/** In milliseconds. */
export async function time(work: () => unknown): Promise<number> {
  const from = performance.now();
  await work();
  return performance.now() - from;
}

/** The steps of PostgreSQL's plan, without what differs by name alone. */
export async function planOf(bench: Bench, statement: string, values: readonly unknown[]): Promise<string> {
  const { rows: plan } = await bench.client.query<{ 'QUERY PLAN': string }>(`EXPLAIN (COSTS OFF) ${statement}`, [...values]);
  return plan
    .map((line) => line['QUERY PLAN'].trim())
    .filter((line) => /Scan|Aggregate|Gather|Sort$/u.test(line))
    .map((line) => line.replace(/ on .*/u, ''))
    .join(', ');
}
