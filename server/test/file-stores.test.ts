import { contract, filesAs, type HeldFile, type OpenApp } from '@bibliona/core';
import { randomBytes } from 'node:crypto';
import { mkdtemp, readdir, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buffer } from 'node:stream/consumers';
import S3rver from 's3rver';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { connect } from '../src/db/database.js';
import { postgresStore } from '../src/files/postgres-store.js';
import { s3Store } from '../src/files/s3-store.js';
import type { FileStore } from '../src/files/store.js';
import { Refusal } from '../src/http/refusal.js';
import { startServer } from '../src/index.js';
import { field, makeApp, saveKey, table, testConfig, testServer, type Caller, type TestServer } from './support.js';

/** Where the content of files is kept is told by the configuration: nothing else of a server differs by it. */
let it: TestServer;
let folder: string;
let stand: S3rver;
let address: string;
const credentials = 'S3RVER:S3RVER';
let stores: Readonly<Record<'database' | 's3', FileStore>>;
let database: Awaited<ReturnType<typeof connect>>;

async function open(port: number): Promise<number> {
  stand = new S3rver({ port, address: '127.0.0.1', silent: true, directory: join(folder, 'objects'), configureBuckets: [{ name: 'honey' }] });
  return (await stand.run()).port;
}

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'bibliona-objects-'));
  it = await testServer();
  database = await connect({ url: it.url, connections: 3, statementTimeout: 10_000 });
  address = `http://${credentials}@127.0.0.1:${await open(0)}/honey/files`;
  const inDatabase = postgresStore(database);
  stores = { database: inDatabase, s3: s3Store(address, inDatabase, () => undefined) };
});
afterAll(async () => {
  await database.destroy();
  await it.close();
  await stand.close();
  await rm(folder, { recursive: true });
});

const written = async (bytes: Uint8Array): Promise<string> => {
  const path = join(folder, `upload-${saveKey()}`);
  await writeFile(path, bytes);
  return path;
};
const contentOf = async (store: FileStore, key: string): Promise<Buffer> => buffer(await store.read(key));

describe.each(['database', 's3'] as const)('a store of files: %s', (name) => {
  const key = (last: string): string => `${name} ${last}`;

  test.each([1, 524_288, 1_300_000])('%s bytes come back as they were', async (size) => {
    const bytes = randomBytes(size);
    await stores[name].put(key(`${size}`), await written(bytes));
    expect((await contentOf(stores[name], key(`${size}`))).equals(bytes)).toBe(true);
  });

  test('a key can be kept twice, also at once', async () => {
    const path = await written(Buffer.from('the same'));
    await Promise.all([1, 2, 3].map(() => stores[name].put(key('same'), path)));
    await stores[name].put(key('same'), path);
    // The store that stands in for S3 answers a moment before its disk has all of it.
    await expect.poll(async () => String(await contentOf(stores[name], key('same')))).toBe('the same');
  });

  test('what is removed is gone, and what is not there is passed over', async () => {
    await stores[name].put(key('gone'), await written(Buffer.from('x')));
    await stores[name].remove([key('gone'), key('never')]);
    await expect(stores[name].read(key('gone'))).rejects.toThrow(/Nothing is kept/u);
  });
});

test('what was kept in the database before is read there, and removed there', async () => {
  await stores.database.put('before', await written(Buffer.from('old')));
  expect(String(await contentOf(stores.s3, 'before'))).toBe('old');
  await stores.s3.remove(['before']);
  await expect(stores.database.read('before')).rejects.toThrow(/Nothing is kept/u);
});

test('a server keeps files in the store, and says so when it is not reachable; the record stays as it was', async () => {
  const server = await startServer({ ...testConfig(it.url, it.files), s3: address });
  const ada = (await it.person('Ada Roke')) as Caller;
  const app: OpenApp = await makeApp(ada, 'Objects', [table('lots', 'Lots', [field('text', 'l_code', 'Code'), field('image', 'l_photo', 'Photo')])]);
  const at = (path: string): string => `${server.address}${path}`;
  const photo = await sharp({ create: { width: 60, height: 40, channels: 3, background: '#d4a017' } })
    .jpeg()
    .toBuffer();
  const upload = async (bytes: Uint8Array): Promise<Response> =>
    fetch(at(ada.path(contract.uploadFile, { app: app.id }, { name: 'hive.jpg' })), {
      method: 'POST',
      body: Buffer.from(bytes),
      headers: { cookie: ada.cookie, 'content-type': 'application/octet-stream' },
    });
  const read = (hash: string, as: string): Promise<Response> =>
    fetch(at(ada.path(contract.readFile, { app: app.id, table: 'lots', id: 1, field: 'l_photo', hash }, { as })), { headers: { cookie: ada.cookie } });
  try {
    const held = (await (await upload(photo)).json()) as HeldFile;
    const write = { kind: 'add', table: 'lots', as: 'l', values: { l_code: 'L-1', l_photo: filesAs([held]) } };
    await ada.call(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes: [write] } });
    expect(Buffer.from(await (await read(held.hash, 'whole')).arrayBuffer()).equals(photo)).toBe(true);
    expect((await sharp(Buffer.from(await (await read(held.hash, 'preview')).arrayBuffer())).metadata()).format).toBe('webp');
    expect(await it.sql('SELECT count(*)::int AS parts FROM bibliona.file_part WHERE key LIKE $1', [`${held.hash}%`])).toEqual([{ parts: 0 }]);
    expect((await readdir(join(folder, 'objects', 'honey', 'files'))).some((name) => name.startsWith(held.hash))).toBe(true);

    const port = Number(new URL(address).port);
    await stand.close();
    const other = await sharp(photo).negate().jpeg().toBuffer();
    for (const answer of [await upload(other), await read(held.hash, 'whole')]) {
      expect(answer.status).toBe(503);
      expect(await answer.json()).toMatchObject({ code: 'unavailable', message: expect.stringContaining('The store of files is not reachable') as string });
    }
    const { record } = await ada.call(contract.readRecord, { params: { app: app.id, table: 'lots', id: 1 } });
    expect(record.values).toMatchObject({ l_code: 'L-1', l_photo: filesAs([held]) });
    // What broke off is not taken for kept: the same file can be sent again.
    await open(port);
    expect((await upload(other)).status).toBe(200);
  } finally {
    await server.close();
  }
});

test('a refusal is one of the store, not of what was asked', async () => {
  const nowhere = s3Store(`http://${credentials}@127.0.0.1:9/honey`, stores.database, () => undefined);
  await expect(nowhere.read('x')).rejects.toBeInstanceOf(Refusal);
  await expect(nowhere.put('x', await written(Buffer.from('x')))).rejects.toBeInstanceOf(Refusal);
});
