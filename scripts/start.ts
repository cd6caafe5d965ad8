/** `npm start`: from a fresh machine to a served app, in one command. */
import { fork, type ChildProcess } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { demoPassword, demoPeople, ensureDemo } from './demo.js';
import { ensureDatabase, openCluster, type Cluster } from './cluster.js';
import { CannotGoOn } from './packages.js';
import { buildServer } from './server-build.js';
import { buildWeb } from './web-build.js';

const root = fileURLToPath(new URL('..', import.meta.url));
const wantedPort = 4400;

const isFree = (port: number): Promise<boolean> =>
  new Promise((resolve) => {
    const probe = createServer();
    probe.once('error', () => resolve(false));
    probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(true)));
  });

async function portToUse(): Promise<number> {
  if (process.env['PORT'] !== undefined) return Number(process.env['PORT']);
  for (let port = wantedPort; port < wantedPort + 50; port += 1) if (await isFree(port)) return port;
  return 0;
}

/** What the server says of itself once it answers. */
interface Listening {
  readonly kind: string;
  readonly address: string;
  /** Where the first person is made, while there is nobody. */
  readonly setUp: string | null;
}

let server: ChildProcess | null = null;
let cluster: Cluster | null = null;
let isStopping = false;

async function stop(code: number): Promise<never> {
  const child = server;
  if (child !== null && child.exitCode === null && child.signalCode === null) {
    const gone = new Promise((resolve) => child.once('exit', resolve));
    child.kill('SIGTERM');
    await gone;
  }
  await cluster?.stop();
  process.exit(code);
}

for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) {
  process.on(signal, () => {
    if (isStopping) return;
    isStopping = true;
    console.log('\nStopping ...');
    void stop(0);
  });
}

async function start(): Promise<void> {
  const given = process.env['DATABASE_URL'];
  const files = join(root, '.data', 'files');
  mkdirSync(files, { recursive: true });
  if (given === undefined) cluster = await openCluster(root, 'postgres');
  const url = given ?? (await ensureDatabase(cluster as Cluster, 'bibliona'));
  const web = await buildWeb(root);
  const hasDemo = process.argv.includes('--no-demo') ? false : await ensureDemo(url, files);
  server = fork(join(await buildServer(root), 'main.js'), {
    // This process is run by a loader that the server does not need.
    execArgv: [],
    env: { ...process.env, DATABASE_URL: url, PORT: String(await portToUse()), FILES: files, WEB: web, LOG: process.env['LOG'] ?? 'error' },
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
  });
  server.once('exit', (code) => {
    if (isStopping) return;
    console.error(`The server has ended (${code ?? 'killed'}). Run npm start again; nothing that was saved is lost.`);
    isStopping = true;
    void stop(1);
  });
  const { address, setUp } = await new Promise<Listening>((resolve) =>
    server?.on('message', (message: Listening) => message.kind === 'listening' && resolve(message)),
  );
  console.log(`\n  Bibliona is at ${address}\n`);
  if (setUp !== null) console.log(`  There is nobody yet. Make the first person at\n    ${setUp}\n`);
  if (hasDemo) {
    console.log(`  Demo sign-ins, all with the password ${demoPassword}:`);
    for (const person of demoPeople) console.log(`    ${person.email.padEnd(38)} ${person.description}`);
    console.log('');
  }
  console.log('  Ctrl-C stops it.\n');
}

start().catch(async (error: unknown) => {
  console.error(error instanceof CannotGoOn ? error.message : error);
  isStopping = true;
  await stop(1);
});
