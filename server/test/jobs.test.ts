import pg from 'pg';
import { afterAll, afterEach, beforeAll, beforeEach, expect, test, vi } from 'vitest';
import { Jobs, TryAgain, type JobKind } from '../src/jobs/jobs.js';
import { migrateQueue, putJobs } from '../src/db/job-queue.js';
import { emptyDatabase } from './support.js';

let url: string;
let drop: () => Promise<void>;
let client: pg.Client;
const running: Jobs[] = [];
const faults: string[] = [];
/** What was done, in its order: the word of each job and how often it was tried. */
let done: string[] = [];
let whileAtWork: (word: string, attempt: number) => Promise<void> = () => Promise.resolve();

const kinds: readonly JobKind[] = [
  {
    name: 'say',
    run: async (payload, attempt) => {
      const { word } = payload as { word: string };
      await whileAtWork(word, attempt);
      done.push(`${word} ${attempt}`);
    },
  },
];
const start = (which: readonly JobKind[] = kinds): Jobs => {
  const jobs = new Jobs({ url, kinds: which, onFault: (error) => faults.push(error.message) });
  running.push(jobs);
  return jobs;
};
const put = putJobs('say', 5, `json_build_object('word', word)`, 'word', 'words');
const say = (...words: string[]): Promise<unknown> => client.query(`WITH words AS (SELECT unnest($1::text[]) AS word) ${put}`, [words]);
const until = async (isSo: () => boolean): Promise<void> => {
  await expect.poll(isSo, { timeout: 20_000 }).toBe(true);
};

beforeAll(async () => {
  ({ url, drop } = await emptyDatabase());
  await migrateQueue(url);
  client = new pg.Client({ connectionString: url });
  await client.connect();
});
beforeEach(() => {
  done = [];
  faults.length = 0;
  whileAtWork = () => Promise.resolve();
});
afterEach(async () => {
  for (const jobs of running.splice(0)) await jobs.close();
});
afterAll(async () => {
  await client.end();
  await drop();
});

test('what is put in a transaction is done once when that is committed, and never when it is not', async () => {
  start();
  start();
  await client.query('BEGIN');
  await say('withdrawn');
  await client.query('ROLLBACK');
  const words = Array.from({ length: 50 }, (_, i) => `word ${i}`);
  await client.query('BEGIN');
  await say(...words);
  await new Promise((resolve) => setTimeout(resolve, 200));
  expect(done).toEqual([]);
  await client.query('COMMIT');
  await until(() => done.length >= words.length);
  await new Promise((resolve) => setTimeout(resolve, 200));
  expect(done.toSorted()).toEqual(words.map((word) => `${word} 1`).toSorted());
});

test('what is put again under the same key before it is done is done once', async () => {
  await say('twice');
  await say('twice');
  start();
  await until(() => done.length > 0);
  await say('after it');
  await until(() => done.length > 1);
  expect(done).toEqual(['twice 1', 'after it 1']);
});

test('what fails is done again after a pause, and what fails unexpectedly is told', async () => {
  whileAtWork = (word, attempt) => {
    if (attempt === 1) return Promise.reject(word === 'expected' ? new TryAgain('later') : new Error('surprise'));
    return Promise.resolve();
  };
  start();
  await say('expected', 'unexpected');
  await until(() => done.length === 2);
  expect(done.toSorted()).toEqual(['expected 2', 'unexpected 2']);
  expect(faults).toEqual(['surprise']);
});

test('no more of a kind are done at a time than it says, and other kinds need not wait', async () => {
  let [now, most] = [0, 0];
  let letEnd: () => void = () => undefined;
  const end = new Promise<void>((resolve) => (letEnd = resolve));
  const slow: JobKind = {
    name: 'slow',
    atMost: 2,
    run: async () => {
      now += 1;
      most = Math.max(most, now);
      await end;
      now -= 1;
      done.push('slow');
    },
  };
  const puts = putJobs('slow', 1, `json_build_object()`, 'word', 'words');
  await client.query(`WITH words AS (SELECT 'slow ' || i AS word FROM generate_series(1, 20) AS i) ${puts}`);
  start([...kinds, slow]);
  await until(() => now === 2);
  await say('beside it');
  await until(() => done.includes('beside it 1'));
  expect(now).toBe(2);
  letEnd();
  await until(() => done.length === 21);
  expect(most).toBe(2);
});

test('what comes again and again is done at each start', async () => {
  const every: JobKind = { name: 'tidy', every: '0 0 1 1 *', run: () => Promise.resolve(void done.push('tidied')) };
  const first = start([every]);
  await until(() => done.length === 1);
  await first.close();
  start([every]);
  await until(() => done.length === 2);
});

test('connections that are cut during a job: it is done anew, and so is what comes after it', async () => {
  // The queue shows each worker that it loses.
  vi.spyOn(console, 'trace').mockReturnValue();
  let isAtWork = false;
  let letEnd: () => void = () => undefined;
  whileAtWork = (_, attempt) => {
    isAtWork = true;
    return attempt === 1 ? new Promise<void>((resolve) => (letEnd = resolve)) : Promise.resolve();
  };
  start();
  await say('cut off');
  await until(() => isAtWork);
  await client.query(`SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE application_name = 'bibliona jobs' AND datname = current_database()`);
  letEnd();
  whileAtWork = () => Promise.resolve();
  await say('comes after it');
  await until(() => done.includes('comes after it 1'));
  // Nothing is left of either.
  const left = async (): Promise<number | null> => (await client.query('SELECT FROM bibliona_jobs.jobs')).rowCount;
  await expect.poll(left, { timeout: 20_000 }).toBe(0);
  expect(done.some((each) => each.startsWith('cut off'))).toBe(true);
});
