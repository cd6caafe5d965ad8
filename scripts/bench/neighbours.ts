import { fork } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { contract, type OpenApp } from '@bibliona/core';
import { hashPassword } from '../../server/src/people/passwords.js';
import { fill, makeTable, memoryOf, pause, quantile, type Bench, type Line } from './bench.js';

const quietRows = 10_000;
const noisyRows = 300_000;
const alone = 10_000;
const together = 180_000;

/** How the list of one app answers while the people of another do what a server likes least, and what it answers them. */
export async function benchNeighbours(bench: Bench): Promise<Line[]> {
  const quiet = await makeTable(bench, 'Quiet');
  await fill(bench, quiet.schema, quietRows);
  const hostile = await signedInAs(bench, 'Hostile');
  const noisy = await makeTable({ ...bench, call: (method, path, body) => asked(bench, hostile, method, path, body) }, 'Noisy');
  await fill(bench, noisy.schema, noisyRows);
  await bench.client.query('ANALYZE');

  const before = await listTimes(bench, quiet.app, alone);
  const rest = memoryOf(bench.serverPid);
  let most = rest;
  const until = Date.now() + together;
  const statuses = new Map<string, number>();
  const watching = setInterval(() => (most = Math.max(most, memoryOf(bench.serverPid))), 250);
  const [during] = await Promise.all([
    listTimes(bench, quiet.app, together),
    ...attacks(bench, noisy.app, hostile).map((attack) => again(attack, until, statuses)),
  ]);
  clearInterval(watching);
  const said = [...statuses].sort(([a], [b]) => a.localeCompare(b)).map(([status, count]) => `${count} × ${status}`);
  const [calm, loud] = [quantile(before, 0.99), quantile(during, 0.99)];
  return [
    {
      what: `a page of a list beside hostile neighbours, for ${together / 60_000} minutes`,
      ours: `p99 ${loud.toFixed(0)} ms of ${during.length}`,
      theirs: `without them ${calm.toFixed(0)} ms`,
      ratio: loud / calm,
      budget: 'p99 < 1 s, no other 5xx than 503 with Retry-After',
      also: `the list was never refused; they were answered ${said.join(', ')}; server memory ${rest.toFixed(0)} MB, at most ${most.toFixed(0)} MB`,
    },
  ];
}

/** One person's session, who can make apps. */
async function signedInAs(bench: Bench, name: string): Promise<string> {
  const [email, password] = [`${name.toLowerCase()}@quillmoor.example`, 'a long enough password'];
  await bench.client.query('INSERT INTO bibliona.person (name, email, password_hash, may_make_apps) VALUES ($1, $2, $3, true)', [
    name,
    email,
    await hashPassword(password),
  ]);
  const answer = await fetch(`${bench.address}${contract.signIn.path}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email, password }),
  });
  if (!answer.ok) throw new Error(await answer.text());
  return answer.headers
    .getSetCookie()
    .map((each) => each.split(';')[0])
    .join('; ');
}

async function asked(bench: Bench, cookie: string, method: 'GET' | 'POST', path: string, body?: unknown): Promise<unknown> {
  const answer = await send(bench, cookie, method, path, body === undefined ? undefined : JSON.stringify(body));
  if (!answer.ok) throw new Error(`${path}: ${await answer.text()}`);
  return answer.json();
}

const send = (
  bench: Bench,
  cookie: string,
  method: 'GET' | 'POST',
  path: string,
  body?: string | Uint8Array,
  signal?: AbortSignal,
  type?: string,
): Promise<Response> =>
  fetch(`${bench.address}${path}`, {
    method,
    headers: { cookie, ...(body === undefined ? {} : { 'content-type': type ?? 'application/json' }) },
    ...(body === undefined ? {} : { body: body as string }),
    ...(signal === undefined ? {} : { signal }),
  });

/** How long each page took, in milliseconds, asked one after another by a process that does nothing else. @throws Error when one is refused */
async function listTimes(bench: Bench, app: OpenApp, milliseconds: number): Promise<readonly number[]> {
  const child = fork(fileURLToPath(new URL('./list-times.ts', import.meta.url)), {
    execArgv: ['--import', 'tsx'],
    env: {
      ...process.env,
      URL: `${bench.address}/api/apps/${app.id}/tables/visits/page?sort=b_date`,
      COOKIE: bench.cookie,
      MILLISECONDS: String(milliseconds),
    },
  });
  return new Promise((resolve, reject) => {
    child.once('message', (times) => resolve(times as readonly number[]));
    child.once('exit', () => reject(new Error('The list was refused')));
  });
}

type Attack = () => Promise<Response | null>;

/** What many at once of one app can do; each answers with what the server said, or null where the connection was cut. */
function attacks(bench: Bench, app: OpenApp, cookie: string): readonly Attack[] {
  const to = (path: string): string => `/api/apps/${app.id}${path}`;
  const slow = Array.from({ length: 12 }, (_, i) => `contains(lower case(Keeper + Place + Code), "${'x'.repeat(i)}zq")`).join(' or ');
  const expression: Attack = () => send(bench, cookie, 'POST', to('/tables/visits/try'), JSON.stringify({ expression: slow }));
  const statistics: Attack = () => send(bench, cookie, 'GET', to('/tables/visits/statistics'));
  const big = Buffer.from(JSON.stringify({ key: crypto.randomUUID(), writes: [], more: 'x'.repeat(7_900_000) }));
  const bigBody: Attack = () => send(bench, cookie, 'POST', to('/save'), big, undefined, 'application/json');
  const tooBig = Buffer.alloc(40_000_000, ' ');
  const refusedBody: Attack = () => send(bench, cookie, 'POST', to('/save'), tooBig, undefined, 'application/json');
  const commas = Buffer.alloc(30_000_000, ',');
  const upload: Attack = () => send(bench, cookie, 'POST', `${to('/imports')}?name=commas.csv`, commas, undefined, 'application/octet-stream');
  const search: Attack = () => send(bench, cookie, 'GET', to(`/search?text=${encodeURIComponent('a e i o u')}`));
  const cut =
    (path: string): Attack =>
    async () => {
      const ending = new AbortController();
      const timer = setTimeout(() => ending.abort(), 30 + Math.random() * 100);
      try {
        const answer = await send(bench, cookie, 'GET', to(path), undefined, ending.signal);
        await answer.arrayBuffer();
        return answer;
      } catch {
        return null;
      } finally {
        clearTimeout(timer);
      }
    };
  return [
    ...Array<Attack>(6).fill(expression),
    ...Array<Attack>(3).fill(statistics),
    bigBody,
    refusedBody,
    ...Array<Attack>(2).fill(upload),
    ...Array<Attack>(3).fill(search),
    ...Array<Attack>(3).fill(cut('/tables/visits/export')),
    ...Array<Attack>(2).fill(cut('/tables/visits/statistics')),
  ];
}

/** One attack after another until then; counts what was answered. @throws Error at an answer that no server can give */
async function again(attack: Attack, until: number, statuses: Map<string, number>): Promise<void> {
  while (Date.now() < until) {
    let said = 'cut off';
    try {
      const answer = await attack();
      if (answer !== null) {
        said = String(answer.status);
        if (answer.status >= 500 && (answer.status !== 503 || answer.headers.get('retry-after') === null))
          throw new Wrong(`${answer.url} answered ${answer.status} ${await answer.text()}`);
        await answer.arrayBuffer().catch(() => undefined);
      }
    } catch (error) {
      if (error instanceof Wrong) throw error;
      said = 'hung up on';
    }
    statuses.set(said, (statuses.get(said) ?? 0) + 1);
    // One who was told to come back in seconds and comes at once is hostile enough; a loop without a breath would only heat this process.
    await pause(20);
  }
}

class Wrong extends Error {}
