import { randomUUID } from 'node:crypto';
import { readdir, utimes, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { startServer } from '../src/index.js';
import { honey, makeApp, testConfig, testServer, type TestServer } from './support.js';

/** What is no longer of use is deleted when a server starts, and every few hours after that. */
let it: TestServer;
beforeAll(async () => {
  it = await testServer();
});
afterAll(() => it.close());

/** A row of each table that grows by itself: one that is over, and one that is still of use. */
const rows: readonly (readonly [table: string, insert: string, over: string, inUse: string])[] = [
  [
    'session',
    `INSERT INTO bibliona.session (token_hash, person_id, expires_at, seen_at) VALUES ('$at', $person, now() + interval '$at', now())`,
    '-1 day',
    '5 days',
  ],
  [
    'session',
    `INSERT INTO bibliona.session (token_hash, person_id, expires_at, seen_at) VALUES ('seen $at', $person, now() + interval '5 days', now() + interval '$at')`,
    '-400 days',
    '-1 minute',
  ],
  [
    'invitation',
    `INSERT INTO bibliona.invitation (token_hash, app_id, email, role, roles, ties, expires_at) VALUES ('$at', '$app', '$mail', 'member', '{}', '{}', now() + interval '$at')`,
    '-1 hour',
    '3 days',
  ],
  ['reset', `INSERT INTO bibliona.reset (token_hash, person_id, expires_at) VALUES ('$at', $person, now() + interval '$at')`, '-1 minute', '1 hour'],
  ['device', `INSERT INTO bibliona.device (token_hash, person_id, seen_at) VALUES ('$at', $person, now() + interval '$at')`, '-200 days', '-100 days'],
  [
    'app_person_removed',
    `INSERT INTO bibliona.app_person_removed (app_id, person_id, role, roles, ties, removed_at) SELECT '$app', id, 'member', '{}', '{}', now() + interval '$at' FROM bibliona.person WHERE email = '$mail'`,
    '-40 days',
    '-20 days',
  ],
  [
    'mail',
    `INSERT INTO bibliona.mail (id, app_id, kind, recipient, subject, body, created_at, state) VALUES (gen_random_uuid(), '$app', 'automation', 'a@quillmoor.example', '$at', '', now() + interval '$at', 'sent')`,
    '-200 days',
    '-100 days',
  ],
  [
    'mailbox',
    `INSERT INTO bibliona.mailbox (message_id, at, sender, recipients, subject, body) VALUES ('m', now() + interval '$at', 's', '{}', '$at', '')`,
    '-200 days',
    '-100 days',
  ],
  [
    'made_file',
    `INSERT INTO bibliona.made_file (id, app_id, person_id, name, created_at, state, facts) SELECT gen_random_uuid(), '$app', id, 'hives.csv', now() + interval '$at', 'done', '{"progress": 1}' FROM bibliona.person WHERE email = '$mail'`,
    '-2 days',
    '-1 hour',
  ],
  [
    'run',
    `INSERT INTO bibliona.run (id, app_id, automation_id, at, table_id, record_id, steps) VALUES (gen_random_uuid(), '$app', 'au', now() + interval '$at', 'hives', 1, '[]')`,
    '-200 days',
    '-100 days',
  ],
];

test('sessions, invitations, links, devices, removed people, mails, runs and files go when they are over, and no others', async () => {
  const ada = await it.person('Ada Roke');
  await it.person('Bede Lunn');
  const app = await makeApp(ada, 'Clean', honey);
  const count = async (): Promise<readonly number[]> => {
    const counts: number[] = [];
    for (const [table] of rows) counts.push(Number((await it.sql<{ n: string }>(`SELECT count(*) AS n FROM bibliona.${table}`))[0]?.n));
    return counts;
  };
  const before = await count();
  for (const [, insert, over, inUse] of rows)
    for (const [at, mail] of [
      [over, 'ada.roke@quillmoor.example'],
      [inUse, 'bede.lunn@quillmoor.example'],
    ] as const)
      await it.sql(insert.replaceAll('$at', at).replaceAll('$person', String(ada.id)).replaceAll('$app', app.id).replaceAll('$mail', mail));
  // Two files of imports: one of yesterday's, one of today's.
  const files = [randomUUID(), randomUUID()] as const;
  for (const [id, at] of [
    [files[0], '-2 days'],
    [files[1], '-1 hour'],
  ] as const) {
    await writeFile(join(it.files, id), 'Code\nH-1\n');
    await it.sql(
      `INSERT INTO bibliona.import (id, app_id, person_id, file_name, created_at, state, facts) VALUES ($1, $2, $3, 'hives.csv', now() + $4::interval, 'read', '{}')`,
      [id, app.id, ada.id, at],
    );
    await writeFile(join(it.files, `made-${id}`), 'Code');
    const then = at === '-2 days' ? new Date(Date.now() - 2 * 86_400_000) : new Date();
    await utimes(join(it.files, `made-${id}`), then, then);
  }
  const tables = rows.map(([table]) => table);
  const added = (each: number): readonly number[] => before.map((n, i) => n + each * tables.filter((table) => table === tables[i]).length);
  expect(await count()).toEqual(added(2));
  const other = await startServer(testConfig(it.url, it.files));
  await other.close();
  // What of it the other had no time for is done by the one that still runs.
  await expect.poll(count, { timeout: 20_000 }).toEqual(added(1));
  expect((await readdir(it.files)).filter((file) => file !== 'name').sort()).toEqual([files[1], `made-${files[1]}`].sort());
});
