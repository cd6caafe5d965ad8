import { connect as openSocket } from 'node:net';
import { gzipSync } from 'node:zlib';
import { contract, type Automation, type OpenApp } from '@bibliona/core';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { connect } from '../../src/db/database.js';
import { Notices } from '../../src/db/notices.js';
import { field, honey, makeApp, saveKey, table, testServer, type Caller, type TestServer } from '../support.js';

/** One person must not stop the others: bodies, connections, locks, automations. */
let it: TestServer;
let ada: Caller & { readonly id: number };
let app: OpenApp;
beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Roke');
  app = await makeApp(ada, 'Neighbours', honey);
});
afterAll(() => it.close());

const until = async (isSo: () => Promise<boolean>): Promise<boolean> => {
  for (let tries = 0; tries < 200; tries += 1) {
    if (await isSo()) return true;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  return false;
};

describe('a body', () => {
  const send = (path: string, body: string | Uint8Array, headers: Record<string, string> = {}, who: Caller = it.caller()) =>
    who.send('POST', path, body, { 'content-type': 'application/json', ...headers });

  test('of somebody without a session is small and not compressed', async () => {
    expect((await send('/api/sign-in', JSON.stringify({ email: 'a', password: 'x'.repeat(20_000) }))).status).toBe(413);
    const packed = gzipSync(JSON.stringify({ email: 'a'.repeat(8_000_000), password: 'x' }));
    const began = performance.now();
    expect((await send('/api/sign-in', packed, { 'content-encoding': 'gzip' })).status).toBe(400);
    expect((await send(`/api/resets`, `[${'1,'.repeat(5000)}1]`)).status).toBe(413);
    expect(performance.now() - began).toBeLessThan(1000);
  });
  test('is weighed before anything is made of it: depth, keys and NUL', async () => {
    const path = `/api/apps/${app.id}/save`;
    const many = `{"key":"x","writes":[{"kind":"add","table":"hives","as":"a","values":{${Array.from({ length: 700_000 }, (_, i) => `"k${i}":1`).join(',')}}}]}`;
    const bodies = [`${'['.repeat(3_000_000)}${']'.repeat(3_000_000)}`, `{"a":${'{"a":'.repeat(500_000)}1${'}'.repeat(500_000)}}`, many];
    for (const body of bodies) {
      const began = performance.now();
      expect((await send(path, body, {}, ada)).status).toBe(413);
      expect(performance.now() - began).toBeLessThan(1000);
    }
    expect((await send(path, '{"key":"a\\u0000b"}', {}, ada)).status).toBe(400);
    // An escaped backslash before it makes it six signs of text.
    expect(JSON.stringify((await send(path, '{"key":"a\\\\u0000b"}', {}, ada)).body)).not.toContain('NUL');
  });
  test('that is too large ends the connection instead of being read to its end', async () => {
    const { hostname, port } = new URL(it.server.address);
    const received = await new Promise<string>((resolve, reject) => {
      let text = '';
      const socket = openSocket(Number(port), hostname, () => {
        socket.write('POST /api/sign-in HTTP/1.1\r\nHost: x\r\nContent-Type: application/json\r\nContent-Length: 900000000\r\n\r\n{"email":"');
      });
      socket.on('data', (chunk) => (text += chunk.toString()));
      socket.on('close', () => resolve(text));
      socket.on('error', () => resolve(text));
      setTimeout(() => reject(new Error('the connection stays open')), 5000);
    });
    expect(received).toMatch(/^HTTP\/1\.1 413/u);
  });
  test('that breaks off or is no gzip is a bad request', async () => {
    expect((await send(`/api/apps/${app.id}/save`, 'not gzip at all', { 'content-encoding': 'gzip' }, ada)).status).toBe(400);
  });
});

test('a listening connection that is cut off again and again comes back as one', async () => {
  const heard = [1, 2].map(() => new Notices(it.url, { bibliona_test: () => undefined }));
  const listening = async (): Promise<number> =>
    (await it.sql(`SELECT FROM pg_stat_activity WHERE query = 'LISTEN bibliona_test' AND datname = current_database()`)).length;
  expect(await until(async () => (await listening()) === 2)).toBe(true);
  for (let round = 0; round < 5; round += 1) {
    await it.sql(`SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE application_name = 'bibliona notices' AND datname = current_database()`);
    await until(async () => (await listening()) === 2);
  }
  await new Promise((resolve) => setTimeout(resolve, 1500));
  expect(await listening()).toBe(2);
  const all = await it.sql(`SELECT FROM pg_stat_activity WHERE application_name = 'bibliona notices' AND datname = current_database()`);
  // The two of this test, and the one of the server for everything that it hears.
  expect(all.length).toBeLessThanOrEqual(3);
  await Promise.all(heard.map((notices) => notices.close()));
  expect(await until(async () => (await listening()) === 0)).toBe(true);
});

test('a request that is left before its answer keeps its turn for as long as the database works for it', async () => {
  const holding = new pg.Client({ connectionString: it.url });
  await holding.connect();
  await holding.query(`BEGIN; LOCK TABLE "app_${app.id}".hives IN ACCESS EXCLUSIVE MODE`);
  const asked = async (path: string): Promise<unknown> =>
    fetch(`${it.server.address}/api/apps/${app.id}/tables/hives/${path}`, { headers: { cookie: ada.cookie }, signal: AbortSignal.timeout(150) }).catch(
      () => null,
    );
  const working = async (): Promise<number> =>
    (await it.sql(`SELECT FROM pg_stat_activity WHERE datname = current_database() AND wait_event_type = 'Lock'`)).length;
  try {
    for (let round = 0; round < 3; round += 1) await Promise.all(Array.from({ length: 4 }, () => asked('statistics')));
    expect(await working()).toBe(2);
    for (let round = 0; round < 3; round += 1) await Promise.all(Array.from({ length: 5 }, () => asked('page')));
    expect(await working()).toBe(2 + 6);
  } finally {
    await holding.query('ROLLBACK');
    await holding.end();
  }
  expect(await until(async () => (await working()) === 0)).toBe(true);
  expect(((await asked('statistics')) as Response).status).toBe(200);
});

test('heavy expressions of one app leave the lists of another alone', async () => {
  const bede = await it.person('Bede Lunn');
  const other = await makeApp(bede, 'Other', honey);
  await ada.call(contract.saveRecords, {
    params: { app: app.id },
    body: { key: saveKey(), writes: Array.from({ length: 200 }, (_, n) => ({ kind: 'add', table: 'hives', as: `h${n}`, values: { h_code: `W-${n}` } })) },
  });
  const expression = 'count(for a in 1..200, b in 1..200 return a * b) > 0 or Code = "x"';
  const heavy = Array.from({ length: 14 }, () => ada.send('POST', `/api/apps/${app.id}/tables/hives/try`, { expression }));
  const times: number[] = [];
  for (let n = 0; n < 20; n += 1) {
    const began = performance.now();
    expect((await bede.send('GET', `/api/apps/${other.id}/tables/hives/page`)).status).toBe(200);
    times.push(performance.now() - began);
  }
  expect(Math.max(...times)).toBeLessThan(2000);
  for (const answer of await Promise.all(heavy)) {
    expect([200, 422, 503]).toContain(answer.status);
    if (answer.status === 503) expect(answer.headers.get('retry-after')).toBe('2');
  }
});

test('a change of design is not behind a slow reader with everybody behind it', async () => {
  const slow = await connect({ url: it.url, connections: 1, statementTimeout: 0 });
  const runner = slow.createQueryRunner();
  await runner.startTransaction();
  await runner.query(`SELECT * FROM "app_${app.id}".apiaries`);
  const { version } = await ada.call(contract.openApp, { params: { app: app.id } });
  const changed = ada.send('POST', `/api/apps/${app.id}/changes`, {
    version,
    changes: [{ kind: 'add_field', table: 'apiaries', field: field('text', 'a_note', 'Note') }],
  });
  await new Promise((resolve) => setTimeout(resolve, 300));
  // Others read the table meanwhile: they wait for the short time for which the change tries, never for the slow reader.
  const began = performance.now();
  expect((await ada.send('GET', `/api/apps/${app.id}/tables/apiaries/page`)).status).toBe(200);
  expect(performance.now() - began).toBeLessThan(3000);
  await runner.rollbackTransaction();
  await runner.release();
  expect((await changed).status).toBe(200);
  await slow.destroy();
});

test('automations that trigger each other end in a sentence, and nothing of them is left', async () => {
  const automation = (n: number): Automation => ({
    id: `au_${n}x`,
    name: `Adds ${n}`,
    description: '',
    section: '',
    isOn: true,
    table: 'echoes',
    on: 'added',
    fields: [],
    moves: [],
    condition: '',
    steps: [{ kind: 'add', id: 'st_one', table: 'echoes', values: [{ field: 'e_what', itself: false, expression: '"again"' }] }],
  });
  const loud = await makeApp(ada, 'Loud', [
    table('echoes', 'Echoes', [field('text', 'e_what', 'What')]),
    ...Array.from({ length: 7 }, (_, n) => ({ kind: 'put', part: 'automation', value: automation(n) }) as const),
  ]);
  const began = performance.now();
  const answer = await ada.refused(contract.saveRecords, {
    params: { app: loud.id },
    body: { key: saveKey(), writes: [{ kind: 'add', table: 'echoes', as: 'e', values: { e_what: 'one' } }] },
  });
  expect(answer.body.message).toContain('more than 510 times in this save');
  expect(performance.now() - began).toBeLessThan(10_000);
  expect(await it.sql(`SELECT FROM "app_${loud.id}".echoes`)).toEqual([]);
});
