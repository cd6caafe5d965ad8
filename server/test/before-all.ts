/** Before a run of server tests: a database as a server leaves it that has started for the first time. Those of the tests begin as copies of it. */
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { startServer } from '../src/index.js';
import { emptyDatabase, startedDatabase, testConfig } from './support.js';

export default async function beforeAll(): Promise<() => Promise<void>> {
  const { url, drop } = await emptyDatabase();
  const files = await mkdtemp(join(tmpdir(), 'bibliona-test-'));
  const server = await startServer(testConfig(url, files));
  await server.close();
  await rm(files, { recursive: true });
  process.env[startedDatabase] = new URL(url).pathname.slice(1);
  return drop;
}
