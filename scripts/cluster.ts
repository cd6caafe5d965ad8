/** A private PostgreSQL cluster on loopback, in a folder of this checkout that git ignores. */
import { spawnSync } from 'node:child_process';
import { createHash, randomBytes } from 'node:crypto';
import { chmodSync, chownSync, existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import { join } from 'node:path';
import pg from 'pg';
import { CannotGoOn, postgresPrograms } from './packages.js';

export interface Cluster {
  /** Address of a database of the cluster. */
  readonly url: (database: string) => string;
  /** True when this call started it: then it is this caller's to stop. */
  readonly wasStarted: boolean;
  /** Stops it unless another Bibliona is still connected. */
  readonly stop: () => Promise<void>;
}

const isRoot = process.getuid?.() === 0;

/** PostgreSQL refuses to run as root; then its programs run as the user that its package made. */
function as(program: string, args: readonly string[]): { readonly status: number | null; readonly output: string } {
  const [command, ...rest] = isRoot ? ['runuser', '-u', 'postgres', '--', program, ...args] : [program, ...args];
  const done = spawnSync(command, rest, { encoding: 'utf8', cwd: '/', stdio: ['ignore', 'pipe', 'pipe'] });
  return { status: done.status, output: `${done.stdout}${done.stderr}` };
}

/** A folder below `.data`, or elsewhere when the user that PostgreSQL runs as cannot reach into this checkout. */
function folderFor(root: string, name: string): string {
  const inside = join(root, '.data');
  mkdirSync(inside, { recursive: true });
  if (!isRoot || as('test', ['-x', inside]).status === 0) return join(inside, name);
  const outside = join('/var/lib/bibliona', createHash('sha256').update(root).digest('hex').slice(0, 12));
  mkdirSync(outside, { recursive: true, mode: 0o755 });
  return join(outside, name);
}

const freePort = (): Promise<number> =>
  new Promise((resolve, reject) => {
    const probe = createServer();
    probe.once('error', reject);
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as AddressInfo;
      probe.close(() => resolve(port));
    });
  });

function make(bin: string, folder: string, password: string): void {
  console.log('Making a private PostgreSQL cluster ...');
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const passwordFile = `${folder}.new-password`;
  writeFileSync(passwordFile, password, { mode: 0o600 });
  if (isRoot) {
    const [uid, gid] = ['-u', '-g'].map((flag) => Number(spawnSync('id', [flag, 'postgres'], { encoding: 'utf8' }).stdout)) as [number, number];
    chownSync(folder, uid, gid);
    chownSync(passwordFile, uid, gid);
  }
  // Words sort as people expect in any language, and digits in them as numbers: H-2 before H-10.
  const made = as(join(bin, 'initdb'), [
    '-D',
    folder,
    '-U',
    'bibliona',
    '--auth=scram-sha-256',
    `--pwfile=${passwordFile}`,
    '--encoding=UTF8',
    '--locale=C.UTF-8',
    '--locale-provider=icu',
    '--icu-locale=und-u-kn',
  ]);
  rmSync(passwordFile);
  if (made.status !== 0) {
    rmSync(folder, { recursive: true, force: true });
    throw new CannotGoOn(`The cluster could not be made:\n${made.output}`);
  }
}

/** Finds the cluster of that name running, or starts it, or makes it first. `settings` are PostgreSQL's, name by value. */
export async function openCluster(root: string, name: string, settings: Readonly<Record<string, string>> = {}): Promise<Cluster> {
  const bin = postgresPrograms();
  const folder = folderFor(root, name);
  const passwordFile = join(root, '.data', `${name}.password`);
  if (!existsSync(join(folder, 'PG_VERSION'))) {
    const password = randomBytes(18).toString('base64url');
    rmSync(folder, { recursive: true, force: true });
    make(bin, folder, password);
    writeFileSync(passwordFile, password, { mode: 0o600 });
    chmodSync(passwordFile, 0o600);
  }
  if (!existsSync(passwordFile))
    throw new CannotGoOn(`The password of the cluster in ${folder} is gone (${passwordFile}). Restore, or move the folder away to begin anew.`);
  const password = readFileSync(passwordFile, 'utf8');
  const running = (): boolean => as(join(bin, 'pg_ctl'), ['-D', folder, 'status']).status === 0;
  const wasRunning = running();
  if (!wasRunning) await start(bin, folder, await freePort(), settings);
  const port = readPort(folder);
  const socket = socketIn(folder);
  const host = socket !== null && existsSync(join(socket, `.s.PGSQL.${port}`)) ? encodeURIComponent(socket) : '127.0.0.1';
  const url = (database: string): string => `postgres://bibliona:${password}@${host}:${port}/${database}`;
  return {
    url,
    wasStarted: !wasRunning,
    stop: async () => {
      if (!running()) return;
      // PostgreSQL takes a moment to notice that a server has gone; a server that is still there after that is another one.
      for (let tries = 0; await othersConnected(url('postgres')); tries += 1) {
        if (tries >= 10) return;
        await new Promise((resolve) => setTimeout(resolve, 200));
      }
      as(join(bin, 'pg_ctl'), ['-D', folder, '-m', 'fast', '-w', 'stop']);
    },
  };
}

/**
 * The folder of the socket by which programs of this machine talk to the cluster: each question takes a third less of both
 * processors than by the network (measured with questions one after the other). Only who may read the cluster gets at it. Null
 * where its path can't be one of a socket, which has at most 107 bytes.
 */
const socketIn = (folder: string): string | null => (/^[\w./-]{1,80}$/u.test(folder) ? folder : null);

function readPort(folder: string): number {
  // PostgreSQL's own file: the fourth line of postmaster.pid is the port.
  const file = join(folder, 'postmaster.pid');
  const text = isRoot ? as('cat', [file]).output : readFileSync(file, 'utf8');
  return Number(text.split('\n')[3]);
}

async function start(bin: string, folder: string, port: number, settings: Readonly<Record<string, string>>): Promise<void> {
  const all = {
    port: String(port),
    listen_addresses: '127.0.0.1',
    unix_socket_directories: socketIn(folder) ?? '',
    max_connections: '120',
    shared_buffers: '256MB',
    max_wal_size: '2GB',
    jit: 'off',
    ...settings,
  };
  const options = Object.entries(all)
    .map(([key, value]) => `-c ${key}=${value === '' ? "''" : value}`)
    .join(' ');
  // After kill -9 of the main process its helpers take a moment to notice; until then a new one is refused.
  for (let tries = 0; ; tries += 1) {
    const started = as(join(bin, 'pg_ctl'), ['-D', folder, '-l', join(folder, 'log.txt'), '-w', '-t', '60', '-o', options, 'start']);
    if (started.status === 0) return;
    if (tries >= 10) throw new CannotGoOn(`PostgreSQL does not start: see ${join(folder, 'log.txt')}\n${started.output}`);
    await new Promise((resolve) => setTimeout(resolve, 500));
  }
}

async function othersConnected(url: string): Promise<boolean> {
  const client = new pg.Client({ connectionString: url });
  try {
    await client.connect();
    const { rows } = await client.query<{ others: number }>(`SELECT count(*)::int AS others FROM pg_stat_activity WHERE application_name LIKE 'bibliona%'`);
    return (rows[0]?.others ?? 0) > 0;
  } catch {
    return false;
  } finally {
    await client.end().catch(() => undefined);
  }
}

/** Makes a database in the cluster unless it is there. */
export async function ensureDatabase(cluster: Cluster, name: string): Promise<string> {
  const client = new pg.Client({ connectionString: cluster.url('postgres') });
  await client.connect();
  try {
    const { rows } = await client.query('SELECT 1 FROM pg_database WHERE datname = $1', [name]);
    if (rows.length === 0) await client.query(`CREATE DATABASE ${pg.escapeIdentifier(name)}`);
  } finally {
    await client.end();
  }
  return cluster.url(name);
}
