import { contract, filesAs, filesIn, type DesignChange, type Form, type HeldFile, type OpenApp } from '@bibliona/core';
import { createHash, randomBytes } from 'node:crypto';
import { readdir, utimes, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import pg from 'pg';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { startServer } from '../src/index.js';
import { gone, serverProcesses } from './processes.js';
import { Caller, field, makeApp, saveKey, table, testConfig, testServer, type TestServer } from './support.js';

const roles: readonly DesignChange[] = [
  {
    kind: 'put',
    part: 'role',
    value: {
      id: 'ro_reader',
      name: 'Reader',
      description: '',
      everything: false,
      menu: [],
      grants: [
        {
          id: 'g_lots',
          table: 'lots',
          see: true,
          add: false,
          change: false,
          remove: false,
          export: false,
          condition: 'Code != "Secret"',
          hidden: ['l_paper'],
          locked: [],
        },
      ],
    },
  },
];

let it: TestServer;
let [ada, bede]: Caller[] = [];
let app: OpenApp;
let photo: Buffer;
const pdf = Buffer.from('%PDF-1.4\n1 0 obj <</Type /Catalog>> endobj\ntrailer <</Root 1 0 R>>\n%%EOF\n');

beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Roke');
  const reader = await it.person('Bede Lunn');
  bede = reader;
  const lots = table('lots', 'Lots', [
    field('text', 'l_code', 'Code'),
    field('image', 'l_photo', 'Photo', { most: 2 }),
    field('file', 'l_paper', 'Paper', { endings: ['pdf', 'txt'], largest: 1 }),
    field('file', 'l_any', 'Any'),
  ]);
  app = await makeApp(ada, 'Files', [lots, ...roles]);
  await it.server.people.join(app.id, reader.id, 'member');
  await it.sql(`UPDATE bibliona.app_person SET roles = '{ro_reader}' WHERE person_id = $1`, [reader.id]);
  // Taken with the camera turned: 60 wide and 40 high on the disk, the other way round as people see it.
  photo = await sharp({ create: { width: 60, height: 40, channels: 3, background: '#d4a017' } })
    .withMetadata({ orientation: 6 })
    .jpeg()
    .toBuffer();
});
afterAll(() => it.close());

const send = (caller: Caller, name: string, bytes: Uint8Array) =>
  caller.send('POST', caller.path(contract.uploadFile, { app: app.id }, { name }), bytes, { 'content-type': 'application/octet-stream' });
async function upload(caller: Caller, name: string, bytes: Uint8Array): Promise<HeldFile> {
  const answer = await send(caller, name, bytes);
  if (answer.status !== 200) throw new Error(JSON.stringify(answer.body));
  return answer.body as HeldFile;
}
const add = (values: object) => ({ params: { app: app.id }, body: { key: saveKey(), writes: [{ kind: 'add', table: 'lots', as: 'l', values }] } });
const save = async (values: object): Promise<number> => (await ada!.call(contract.saveRecords, add(values))).records[0]?.id ?? 0;
const fetched = (caller: Caller, id: number, fieldId: string, hash: string, as = 'whole', headers: Record<string, string> = {}) =>
  fetch(`${it.server.address}${caller.path(contract.readFile, { app: app.id, table: 'lots', id, field: fieldId, hash }, { as })}`, {
    headers: { cookie: caller.cookie, ...headers },
  });
const sha = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

describe('a file', () => {
  test('is uploaded, saved with a record, and comes back as it was', async () => {
    const held = await upload(ada!, 'Hive 12.jpg', photo);
    expect(held).toEqual({ name: 'Hive 12.jpg', hash: sha(photo), size: photo.length });
    const id = await save({ l_code: 'L-1', l_photo: filesAs([held]) });
    const whole = await fetched(ada!, id, 'l_photo', held.hash);
    expect(Buffer.from(await whole.arrayBuffer()).equals(photo)).toBe(true);
    expect(Object.fromEntries(['content-type', 'content-disposition', 'x-content-type-options'].map((name) => [name, whole.headers.get(name)]))).toEqual({
      'content-type': 'image/jpeg',
      'content-disposition': 'inline; filename="Hive 12.jpg"',
      'x-content-type-options': 'nosniff',
    });
    // Its small image is upright.
    const preview = await sharp(Buffer.from(await (await fetched(ada!, id, 'l_photo', held.hash, 'preview')).arrayBuffer())).metadata();
    expect([preview.format, preview.width, preview.height]).toEqual(['webp', 40, 60]);
    // What the browser has is not sent again, but asked for each time.
    const again = await fetched(ada!, id, 'l_photo', held.hash, 'whole', { 'if-none-match': whole.headers.get('etag') ?? '', 'cache-control': 'max-age=0' });
    expect([again.status, again.headers.get('cache-control')]).toEqual([304, 'private, no-cache']);
  });

  test('of several parts is read part by part, and kept once for all', async () => {
    const bytes = randomBytes(1_300_000);
    const [heldFile, other] = [await upload(ada!, 'a.data', bytes), await upload(ada!, 'b.data', bytes)];
    expect(heldFile.hash).toBe(other.hash);
    const id = await save({ l_any: filesAs([heldFile, other]) });
    const read = await fetched(ada!, id, 'l_any', heldFile.hash);
    expect(Buffer.from(await read.arrayBuffer()).equals(bytes)).toBe(true);
    expect(read.headers.get('content-disposition')).toBe('attachment; filename="a.data"');
    expect(await it.sql('SELECT count(*)::int AS parts FROM bibliona.file_part WHERE key = $1', [heldFile.hash])).toEqual([{ parts: 3 }]);
  });

  test('that a browser could run is never shown in place', async () => {
    for (const [name, text] of [
      ['page.html', '<!doctype html><script>alert(1)</script>'],
      ['drawing.svg', '<?xml version="1.0"?><svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>'],
    ] as const) {
      const held = await upload(ada!, name, Buffer.from(text));
      const id = await save({ l_any: filesAs([held]) });
      const read = await fetched(ada!, id, 'l_any', held.hash);
      expect([read.headers.get('content-type'), read.headers.get('content-disposition')]).toEqual([
        'application/octet-stream',
        `attachment; filename="${name}"`,
      ]);
      await read.arrayBuffer();
    }
  });

  test.each<[string, () => Uint8Array, RegExp]>([
    ['photo.jpg', () => Buffer.from('no image at all'), /its content is something else/u],
    ['paper.pdf', () => photo, /its content is JPG/u],
    ['notes.txt', () => photo, /its content is not text/u],
    ['broken.jpg', () => photo.subarray(0, 200), /damaged or too large/u],
    ['empty.txt', () => Buffer.alloc(0), /is empty/u],
  ])('%s whose content is another is refused, and nothing is stored', async (name, bytes, message) => {
    const files = () => it.sql('SELECT count(*)::int AS n FROM bibliona.file');
    const before = await files();
    const answer = await send(ada!, name, bytes());
    expect([answer.status, (answer.body as { message: string }).message]).toEqual([422, expect.stringMatching(message)]);
    expect(await files()).toEqual(before);
    // Only the name of the folder.
    expect(await readdir(it.files)).toEqual(['name']);
  });

  test('gets the ending of its content, and a name without a path', async () => {
    const png = await sharp({ create: { width: 2, height: 2, channels: 3, background: '#fff' } })
      .png()
      .toBuffer();
    expect((await upload(ada!, 'photo.jpg', png)).name).toBe('photo.png');
    expect((await upload(ada!, 'photo', png)).name).toBe('photo.png');
    expect((await upload(ada!, '../../etc/x\u0007y.jpeg', photo)).name).toBe('.. .. etc x y.jpeg');
  });

  test('that is too many, too large or of another kind is refused at its field', async () => {
    const one = await upload(ada!, 'a.jpg', photo);
    const paper = await upload(ada!, 'p.pdf', pdf);
    const large = await upload(ada!, 'l.txt', Buffer.alloc(1_000_001, 'a'));
    const refused = async (values: object) => (await ada!.refused(contract.saveRecords, add(values))).body.issues.map((issue) => [issue.field, issue.message]);
    expect(await refused({ l_photo: filesAs([one, one, one]) })).toEqual([['l_photo', 'Photo holds up to 2 files']]);
    expect(await refused({ l_photo: filesAs([paper]) })).toEqual([['l_photo', expect.stringContaining('“p.pdf” is none of these kinds of file: jpg')]]);
    expect(await refused({ l_paper: filesAs([large]) })).toEqual([['l_paper', 'Paper “l.txt” is larger than 1 MB']]);
    expect(await refused({ l_paper: 'anything' })).toEqual([['l_paper', 'Paper must be files that were added']]);
  });
});

describe('who gets at a file', () => {
  test('those who see the field of the record, and nobody else', async () => {
    const [held, paper] = [await upload(ada!, 'open.jpg', photo), await upload(ada!, 'paper.pdf', pdf)];
    const open = await save({ l_code: 'Open', l_photo: filesAs([held]), l_paper: filesAs([paper]) });
    const secret = await save({ l_code: 'Secret', l_photo: filesAs([held]) });
    const status = async (caller: Caller, id: number, fieldId: string, hash: string): Promise<number> => {
      const answer = await fetched(caller, id, fieldId, hash);
      await answer.arrayBuffer();
      return answer.status;
    };
    expect(await status(bede!, open, 'l_photo', held.hash)).toBe(200);
    expect(await status(bede!, secret, 'l_photo', held.hash)).toBe(404);
    expect(await status(bede!, open, 'l_paper', paper.hash)).toBe(404);
    expect(await status(bede!, open, 'l_photo', paper.hash)).toBe(404);
    expect(await status(bede!, open, 'l_code', held.hash)).toBe(404);
    expect(await status(it.caller(), open, 'l_photo', held.hash)).toBe(401);
    // Once it is taken out of the record it is gone for everybody but who uploaded it.
    const { record } = await ada!.call(contract.readRecord, { params: { app: app.id, table: 'lots', id: open } });
    const writes = [{ kind: 'change', table: 'lots', id: open, rev: record.rev, values: { l_photo: null } }];
    await ada!.call(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes } });
    expect([await status(bede!, open, 'l_photo', held.hash), await status(ada!, open, 'l_photo', held.hash)]).toEqual([404, 200]);
    const asked = (caller: Caller) => caller.send('GET', caller.path(contract.readFreeFile, { app: app.id, hash: held.hash }));
    expect([(await asked(bede!)).status, (await asked(ada!)).status]).toEqual([404, 200]);
  });

  test('nobody who only knows its hash: a record takes what its writer uploaded, as it is', async () => {
    const held = await upload(ada!, 'mine.jpg', randomImage());
    const cold = await it.person('Cold Spring');
    await it.server.people.join(app.id, cold.id, 'builder');
    const forged = await cold.refused(contract.saveRecords, add({ l_photo: filesAs([held]) }));
    expect(forged.body.issues).toMatchObject([{ field: 'l_photo', message: '“mine.jpg” is no longer on the server. Add it again.' }]);
    for (const lie of [
      { ...held, size: held.size - 1 },
      { ...held, name: 'mine.png' },
      { ...held, hash: 'cd'.repeat(32) },
    ])
      expect((await ada!.refused(contract.saveRecords, add({ l_photo: filesAs([lie]) }))).status).toBe(422);
    // What a record holds stays when somebody else changes another thing about it.
    const id = await save({ l_code: 'L-9', l_photo: filesAs([held]) });
    const { record } = await cold.call(contract.readRecord, { params: { app: app.id, table: 'lots', id } });
    const writes = [{ kind: 'change', table: 'lots', id, rev: record.rev, values: { l_code: 'L-10', l_photo: record.values['l_photo'] } }];
    await cold.call(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes } });
  });

  test('who can write no field for files uploads none', async () => {
    const answer = await send(bede!, 'x.jpg', photo);
    expect([answer.status, (answer.body as { message: string }).message]).toEqual([403, 'There is no field that you can add files to.']);
  });
});

describe('the image on a form', () => {
  const form = (id: string, file: HeldFile | undefined, more: Partial<Form> = {}): DesignChange => ({
    kind: 'put',
    part: 'form',
    value: { id, table: 'lots', name: id, roles: [], isDefault: false, items: [{ kind: 'image', id: `im_${id}`, file, alt: 'A hive', width: 6 }], ...more },
  });
  const put = async (caller: Caller, ...changes: DesignChange[]): Promise<{ status: number; message: string }> => {
    const { version } = await ada!.call(contract.openApp, { params: { app: app.id } });
    const answer = await caller.send('POST', caller.path(contract.changeDesign, { app: app.id }), { version, changes, acceptLoss: false });
    return { status: answer.status, message: (answer.body as { message?: string }).message ?? '' };
  };
  const statusOf = async (caller: Caller, path: string): Promise<number> => {
    const answer = await fetch(`${it.server.address}${path}`, { headers: { cookie: caller.cookie } });
    await answer.arrayBuffer();
    return answer.status;
  };
  const own = (hash: string): string => ada!.path(contract.readFreeFile, { app: app.id, hash });
  const open = (name: string, hash: string): string => ada!.path(contract.readPublicImage, { app: app.id, form: name, hash });

  test('is seen by those who see the form, by visitors where it is public, and stays for as long as the app', async () => {
    const [forAll, forBuilders] = [await upload(ada!, 'all.jpg', randomImage()), await upload(ada!, 'few.jpg', randomImage())];
    const visitors = { public: { role: 'ro_reader', sites: [] } };
    expect(await put(ada!, other, form('seen', forAll, visitors), form('unseen', forBuilders, { roles: ['ro_other'] }))).toMatchObject({ status: 200 });
    expect([await statusOf(bede!, own(forAll.hash)), await statusOf(bede!, own(forBuilders.hash))]).toEqual([200, 404]);
    const visitor = it.caller();
    expect([await statusOf(visitor, open('seen', forAll.hash)), await statusOf(visitor, open('seen', forBuilders.hash))]).toEqual([200, 404]);
    expect([await statusOf(visitor, open('unseen', forBuilders.hash)), await statusOf(visitor, own(forAll.hash))]).toEqual([404, 401]);
    // Taken off, and a day later, undo still brings it back.
    const { version } = await ada!.call(contract.openApp, { params: { app: app.id } });
    expect((await put(ada!, form('seen', undefined))).status).toBe(200);
    await it.sql(`UPDATE bibliona.file_use SET uploaded_at = now() - interval '3 days'`);
    await it.sql(`UPDATE bibliona.file SET touched_at = now() - interval '3 days'`);
    const again = await startServer(testConfig(it.url, it.files));
    await again.close();
    await ada!.call(contract.undoDesign, { params: { app: app.id }, body: { version: version + 1, direction: 'undo', acceptLoss: false } });
    expect(await statusOf(visitor, open('seen', forAll.hash))).toBe(200);
  });

  test('is none that someone else uploaded, is named falsely, or is no image', async () => {
    const held = await upload(ada!, 'own.jpg', randomImage());
    const wren = await it.person('Wren Vale');
    await it.server.people.join(app.id, wren.id, 'builder');
    const gone = { status: 422, message: expect.stringContaining('no longer on the server') as string };
    expect(await put(wren, form('forged', held))).toEqual(gone);
    expect(await put(ada!, form('forged', { ...held, hash: 'ab'.repeat(32) }))).toEqual(gone);
    expect(await put(ada!, form('forged', { ...held, size: held.size + 1 }))).toEqual(gone);
    const paper = await upload(ada!, 'p.pdf', pdf);
    expect((await put(ada!, form('forged', paper))).message).toContain('which is no image that browsers show');
    expect((await put(ada!, form('forged', { ...held, size: 3_000_001 }))).message).toContain('larger than 3 MB');
  });
});

const other: DesignChange = {
  kind: 'put',
  part: 'role',
  value: { id: 'ro_other', name: 'Other', description: '', everything: false, menu: [], grants: [] },
};

const randomImage = (): Buffer => Buffer.concat([photo, randomBytes(8)]);

test('a text is found by the names of files, and never by their hashes', async () => {
  const held = await upload(ada!, 'Würdigung.pdf', pdf);
  await save({ l_code: 'Named', l_any: filesAs([held]) });
  const found = async (search: string) =>
    (await ada!.call(contract.readPage, { params: { app: app.id, table: 'lots' }, query: { search, limit: 10 } })).records.length;
  expect([await found('würdig'), await found(held.hash.slice(0, 12))]).toEqual([1, 0]);
});

test('what was never saved is deleted a day later; what a record or its history holds stays', async () => {
  const [lost, kept, past] = [
    await upload(ada!, 'lost.jpg', randomImage()),
    await upload(ada!, 'kept.jpg', randomImage()),
    await upload(ada!, 'past.jpg', randomImage()),
  ];
  await save({ l_code: 'Kept', l_photo: filesAs([kept]) });
  const id = await save({ l_code: 'Past', l_photo: filesAs([past]) });
  const { record } = await ada!.call(contract.readRecord, { params: { app: app.id, table: 'lots', id } });
  const changing = saveKey();
  const writes = [{ kind: 'change', table: 'lots', id, rev: record.rev, values: { l_photo: null } }];
  await ada!.call(contract.saveRecords, { params: { app: app.id }, body: { key: changing, writes } });
  await it.sql(`UPDATE bibliona.file_use SET uploaded_at = now() - interval '25 hours'`);
  await it.sql(`UPDATE bibliona.file SET touched_at = now() - interval '25 hours'`);
  const stale = join(it.files, 'upload-broken-off');
  await writeFile(stale, 'half');
  await utimes(stale, 0, 0);
  // A server tidies up when it starts.
  const other = await startServer(testConfig(it.url, it.files));
  await other.close();
  const known = async (): Promise<readonly boolean[]> => {
    const rows = await it.sql<{ hash: string }>('SELECT hash FROM bibliona.file');
    return [lost, kept, past].map((file) => rows.some((row) => row.hash === file.hash));
  };
  // What of it the other had no time for is done by the one that still runs.
  await expect.poll(known, { timeout: 20_000 }).toEqual([false, true, true]);
  expect(await it.sql('SELECT FROM bibliona.file_part WHERE key LIKE $1', [`${lost.hash}%`])).toEqual([]);
  // Only the name of the folder.
  expect(await readdir(it.files)).toEqual(['name']);
  // Undoing the change brings the file back.
  await ada!.call(contract.takeBackSave, { params: { app: app.id, save: changing }, body: { key: saveKey(), dry: false } });
  const back = await ada!.call(contract.readRecord, { params: { app: app.id, table: 'lots', id } });
  expect(filesIn(back.record.values['l_photo'])).toEqual([past]);
  expect((await fetched(ada!, id, 'l_photo', past.hash)).status).toBe(200);
});

test('kill -9 during a hundred uploads: every record has its files, and what is left over goes', { timeout: 120_000 }, async () => {
  const processes = await serverProcesses();
  const first = await processes.start();
  const one = new Caller(first.address);
  const who = { email: 'ada@quillmoor.example', password: 'a long enough password' };
  await one.call(contract.setUp, { body: { key: first.setUpKey, name: 'Ada Roke', ...who } });
  const theirs = await makeApp(one, 'Crash', [table('lots', 'Lots', [field('file', 'l_any', 'Any')])]);
  const at = { app: theirs.id };
  let saved = 0;
  const lane = async (): Promise<void> => {
    for (let i = 0; i < 25; i += 1) {
      const answer = await one.send('POST', one.path(contract.uploadFile, at, { name: 'some.data' }), randomBytes(900_000));
      const writes = [{ kind: 'add', table: 'lots', as: 'l', values: { l_any: filesAs([answer.body as HeldFile]) } }];
      await one.call(contract.saveRecords, { params: at, body: { key: saveKey(), writes } });
      saved += 1;
    }
  };
  const working = Promise.allSettled(Array.from({ length: 4 }, lane));
  while (saved < 12) await new Promise((resolve) => setTimeout(resolve, 5));
  first.child.kill('SIGKILL');
  await Promise.all([gone(first.child), working]);

  const client = new pg.Client({ connectionString: processes.url });
  await client.connect();
  await client.query(`UPDATE bibliona.file_use SET uploaded_at = now() - interval '25 hours'`);
  await client.query(`UPDATE bibliona.file SET touched_at = now() - interval '25 hours'`);
  const second = await processes.start();
  const again = new Caller(second.address);
  await again.call(contract.signIn, { body: who });
  const { records } = await again.call(contract.readPage, { params: { ...at, table: 'lots' }, query: { limit: 200 } });
  expect(records.length).toBeGreaterThanOrEqual(saved);
  for (const record of records) {
    const [held] = filesIn(record.values['l_any']);
    const { bytes } = await again.download(contract.readFile, { ...at, table: 'lots', id: String(record.id), field: 'l_any', hash: held?.hash ?? '' });
    expect(sha(bytes)).toBe(held?.hash);
  }
  const left = async () =>
    (
      await client.query<{ n: number }>(
        `SELECT (SELECT count(*) FROM bibliona.file AS f WHERE NOT EXISTS (SELECT FROM bibliona.file_use AS u WHERE u.hash = f.hash AND u.is_saved))::int + (SELECT count(*) FROM bibliona.file_part AS p WHERE NOT EXISTS (SELECT FROM bibliona.file AS f WHERE p.key IN (f.hash, f.hash || '.preview')))::int AS n`,
      )
    ).rows[0]?.n;
  for (let tries = 0; tries < 100 && (await left()) !== 0; tries += 1) await new Promise((resolve) => setTimeout(resolve, 50));
  expect(await left()).toBe(0);
  await client.end();
  await processes.close();
});
