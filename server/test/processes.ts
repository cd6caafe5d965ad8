/** Server processes that a test can kill, on a database of their own. */
import { fork, type ChildProcess } from 'node:child_process';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { emptyDatabase } from './support.js';

export interface ServerProcess {
  readonly address: string;
  readonly child: ChildProcess;
  readonly setUpKey: string | null;
}
export interface ServerProcesses {
  readonly url: string;
  readonly start: (env?: Readonly<Record<string, string>>) => Promise<ServerProcess>;
  readonly close: () => Promise<void>;
}

export async function serverProcesses(): Promise<ServerProcesses> {
  const files = await mkdtemp(join(tmpdir(), 'bibliona-crash-'));
  const database = await emptyDatabase();
  const running: ChildProcess[] = [];
  const start = async (env: Readonly<Record<string, string>> = {}): Promise<ServerProcess> => {
    const built = process.env['SERVER_BUILD'];
    const child = fork(built === undefined ? join(import.meta.dirname, '../src/main.ts') : join(built, 'main.js'), {
      execArgv: built === undefined ? ['--import', 'tsx'] : [],
      env: { ...process.env, DATABASE_URL: database.url, PORT: '0', FILES: files, WEB: '', LOG: 'silent', ...env },
      stdio: ['ignore', 'pipe', 'inherit', 'ipc'],
    });
    running.push(child);
    let said = '';
    child.stdout?.on('data', (chunk: Buffer) => (said += chunk.toString()));
    const address = await new Promise<string>((resolve, reject) => {
      child.once('message', (message: { address: string }) => resolve(message.address));
      child.once('exit', () => reject(new Error('the server did not start')));
    });
    await new Promise((resolve) => setTimeout(resolve, 200));
    return { address, child, setUpKey: /set-up#(\S+)/u.exec(said)?.[1] ?? null };
  };
  return {
    url: database.url,
    start,
    close: async () => {
      for (const child of running) child.kill('SIGKILL');
      await database.drop();
      await rm(files, { recursive: true, force: true });
    },
  };
}

export const gone = (child: ChildProcess): Promise<unknown> => new Promise((resolve) => child.once('exit', resolve));
