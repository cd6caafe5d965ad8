/** `npm run dev`: the server, started again when its code changes, and Vite with hot reload in front of it. */
import { spawn, type ChildProcess } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { ensureDatabase, openCluster, type Cluster } from './cluster.js';
import { ensureDemo } from './demo.js';
import { CannotGoOn } from './packages.js';

const root = fileURLToPath(new URL('..', import.meta.url));
const port = process.env['PORT'] ?? '4401';
const children: ChildProcess[] = [];
let cluster: Cluster | null = null;

async function stop(code: number): Promise<never> {
  for (const child of children) child.kill('SIGTERM');
  await Promise.all(children.map((child) => (child.exitCode === null ? new Promise((resolve) => child.once('exit', resolve)) : Promise.resolve())));
  await cluster?.stop();
  process.exit(code);
}

async function dev(): Promise<void> {
  const files = join(root, '.data', 'files');
  mkdirSync(files, { recursive: true });
  if (process.env['DATABASE_URL'] === undefined) cluster = await openCluster(root, 'postgres');
  const url = process.env['DATABASE_URL'] ?? (await ensureDatabase(cluster as Cluster, 'bibliona'));
  await ensureDemo(url, files);
  // The page comes from Vite, so requests carry its address: that is the one that changes are taken from.
  const env = { ...process.env, DATABASE_URL: url, PORT: port, FILES: files, ADDRESS: 'http://localhost:5173', SERVER: `http://127.0.0.1:${port}` };
  children.push(
    spawn(join(root, 'node_modules', '.bin', 'tsx'), ['watch', join(root, 'server', 'src', 'main.ts')], { env, stdio: ['ignore', 'inherit', 'inherit'] }),
  );
  children.push(
    spawn(process.execPath, [join(root, 'node_modules', 'vite', 'bin', 'vite.js')], { cwd: join(root, 'web'), env, stdio: ['ignore', 'inherit', 'inherit'] }),
  );
}

for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => void stop(0));
dev().catch(async (error: unknown) => {
  console.error(error instanceof CannotGoOn ? error.message : error);
  await stop(1);
});
