import { contract, suggestPlan, type AppDesign, type ImportAnswer } from '@bibliona/core';
import pg from 'pg';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { begin } from './importing.js';
import { gone, serverProcesses, type ServerProcess, type ServerProcesses } from './processes.js';
import { regionsOfMany } from './rearranging.js';
import { Caller, field, makeApp, saveKey, table } from './support.js';

let processes: ServerProcesses;
beforeAll(async () => {
  processes = await serverProcesses();
});
afterAll(() => processes.close());

/** Signed in; at the first server of these tests the account is made. */
async function entered({ address, setUpKey }: ServerProcess): Promise<Caller> {
  const ada = new Caller(address);
  const account = { email: 'ada@quillmoor.example', password: 'a long enough password' };
  if (setUpKey === null) await ada.call(contract.signIn, { body: account });
  else await ada.call(contract.setUp, { body: { key: setUpKey, name: 'Ada Roke', ...account } });
  return ada;
}

test('kill -9 in the middle of saves and an import loses nothing that was confirmed and leaves nothing half done', async () => {
  const first = await processes.start();
  const ada = await entered(first);
  const app = await makeApp(ada, 'Crash', [table('many', 'Many', [field('text', 'm_name', 'Name'), field('whole', 'm_number', 'Number')])]);
  const upload = await ada.send(
    'POST',
    `/api/apps/${app.id}/imports?name=Many.csv`,
    Buffer.from(`Name,Number\n${Array.from({ length: 150_000 }, (_, i) => `row ${i},${i}`).join('\n')}\n`),
    { 'content-type': 'application/octet-stream' },
  );
  const { id } = upload.body as ImportAnswer;
  const read = (): Promise<ImportAnswer> => ada.call(contract.readImport, { params: { app: app.id, import: id } });
  let answer = await read();
  while (answer.state === 'reading') answer = await read();
  const columns = suggestPlan(answer.survey?.columns ?? [], app.design as AppDesign, 'many', () => 'unused');
  await ada.call(contract.runImport, {
    params: { app: app.id, import: id },
    body: { version: app.version, plan: { reading: answer.survey?.reading, target: { kind: 'table', table: 'many' }, columns, badCells: 'refuse' } },
  });
  const confirmed: number[] = [];
  const saving = Promise.all(
    Array.from({ length: 4 }, async (_, lane) => {
      for (let i = 0; ; i += 1) {
        const saved = await ada.call(contract.saveRecords, {
          params: { app: app.id },
          body: { key: saveKey(), writes: [{ kind: 'add', table: 'many', as: 'm', values: { m_name: `lane ${lane}`, m_number: i } }] },
        });
        confirmed.push(saved.records[0]?.id ?? 0);
      }
    }),
  ).catch(() => undefined);
  while (confirmed.length < 60 || (await read()).progress === 0) await new Promise((resolve) => setTimeout(resolve, 5));
  first.child.kill('SIGKILL');
  await Promise.all([gone(first.child), saving]);

  const second = await processes.start();
  const again = await entered(second);
  const client = new pg.Client({ connectionString: processes.url });
  await client.connect();
  const name = `"app_${app.id}"`;
  // Connections of the killed process are still being rolled back for a moment.
  const ids = new Set((await client.query<{ id: string }>(`SELECT id FROM ${name}.many`)).rows.map((row) => Number(row.id)));
  expect(confirmed.filter((each) => !ids.has(each))).toEqual([]);
  const imported = await client.query(`SELECT count(*)::int AS n FROM ${name}.many WHERE name LIKE 'row %'`);
  expect([{ n: 0 }, { n: 150_000 }]).toContainEqual(imported.rows[0]);
  // Each record that is there has its line in the history, and no line is without its record.
  const history = await client.query(
    `SELECT count(*)::int AS n FROM ${name}._history AS h FULL JOIN ${name}.many AS m ON h.record_id = m.id WHERE h.id IS NULL OR m.id IS NULL`,
  );
  expect(history.rows).toEqual([{ n: 0 }]);
  // The import goes on by itself.
  const isDone = async (): Promise<string> => (await again.call(contract.readImport, { params: { app: app.id, import: id } })).state;
  await expect.poll(isDone, { timeout: 60_000, interval: 200 }).toBe('done');
  const whole = await client.query(`SELECT count(*)::int AS n FROM ${name}.many WHERE name LIKE 'row %'`);
  expect(whole.rows).toEqual([{ n: 150_000 }]);
  await client.end();

  const parent = gone(second.child);
  second.child.kill('SIGTERM');
  expect(await parent).toBe(0);
}, 90_000);

test('kill -9 in the middle of an import that changes records, or divides a flat sheet, leaves all of it or nothing', async () => {
  let server = await processes.start();
  let ada = await entered(server);
  const app = await makeApp(ada, 'Crash again', [table('many', 'Many', [field('text', 'm_name', 'Name'), field('whole', 'm_number', 'Number')])]);
  const client = new pg.Client({ connectionString: processes.url });
  await client.connect();
  const rows = (number: (i: number) => number): string => `Name,Number\n${Array.from({ length: 6_000 }, (_, i) => `row ${i},${number(i)}`).join('\n')}\n`;
  const target = { kind: 'table', table: 'many' };
  const settled = async (id: string): Promise<string> => {
    for (;;) {
      const { state } = await ada.call(contract.readImport, { params: { app: app.id, import: id } });
      if (state !== 'running') return state;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
  };
  expect(
    await settled(
      await begin(
        ada,
        app,
        rows((i) => i),
        () => ({ target }),
      ),
    ),
  ).toBe('done');

  const changing = (from: number) => () =>
    begin(
      ada,
      app,
      rows((i) => i + from),
      () => ({ target, matching: { mode: 'both', by: ['m_name'], isLoose: false } }),
    );
  const changed = async (from: number): Promise<number> =>
    (await client.query<{ n: number }>(`SELECT count(*)::int AS n FROM "app_${app.id}".many WHERE number >= ${from}`)).rows[0]?.n ?? 0;
  const tables = async (): Promise<string[]> => (await ada.call(contract.openApp, { params: { app: app.id } })).design.tables.map((each) => each.name);
  const things = (within: string) => [
    {
      table: 't_sites',
      name: 'Sites',
      form: 'fm_sites',
      list: 'l_sites',
      key: 1,
      columns: [2],
      within,
      relationship: 'r_site',
      field: 'f_site',
      fieldName: 'Site',
      childrenName: 'Visits',
      chosen: [],
    },
  ];
  const flat = `Visit,Place,Region\n${Array.from({ length: 20_000 }, (_, i) => `${i},Site ${i % 500},Region ${i % 5}`).join('\n')}\n`;
  const dividing = () =>
    begin(ada, app, flat, (columns) => ({
      target: { kind: 'new', table: 't_visits', name: 'Visits', form: 'fm_visits', list: 'l_visits' },
      columns: columns.map((column, at) => (at === 1 && column.kind === 'new' ? { ...column, field: field('text', 'f_place', 'Place') } : column)),
      things: things('t_visits'),
    }));
  const tries: readonly {
    readonly start: () => Promise<string>;
    readonly wait: number;
    readonly seen: () => Promise<unknown>;
    readonly all: unknown;
    readonly nothing: unknown;
  }[] = [
    { start: changing(100_000), wait: 150, seen: () => changed(100_000), all: 6_000, nothing: 0 },
    { start: changing(200_000), wait: 900, seen: () => changed(200_000), all: 6_000, nothing: 0 },
    { start: dividing, wait: 400, seen: tables, all: ['Many', 'Sites', 'Visits'], nothing: ['Many'] },
  ];
  for (const { start, wait, seen, all, nothing } of tries) {
    const id = await start();
    // At any moment of it: what is asserted holds at each.
    await new Promise((resolve) => setTimeout(resolve, wait));
    server.child.kill('SIGKILL');
    await gone(server.child);
    server = await processes.start();
    ada = await entered(server);
    expect([all, nothing]).toContainEqual(await seen());
    // It goes on by itself.
    expect(await settled(id)).toBe('done');
    expect(await seen()).toEqual(all);
  }
  expect(await settled(await changing(300_000)())).toBe('done');
  expect(await changed(300_000)).toBe(6_000);
  await client.end();
  server.child.kill('SIGTERM');
  await gone(server.child);
}, 180_000);

test.each([
  ['a long change', ''],
  // Its table is so large that the columns it takes are filled before.
  ['making a change ready', `INSERT INTO ~.many (name) SELECT repeat('row', 500) FROM generate_series(1, 14000)`],
])(
  'kill -9 in the middle of %s gives its tables back within seconds, and leaves nothing of it',
  async (_, enlarge) => {
    const first = await processes.start();
    let ada = await entered(first);
    const app = await makeApp(ada, 'Long change', [table('many', 'Many', [field('text', 'm_name', 'Name'), field('text', 'm_region', 'Region')])]);
    const client = new pg.Client({ connectionString: processes.url });
    await client.connect();
    const at = `"app_${app.id}"`;
    // As if there were so many records that changing them takes an hour.
    await client.query(enlarge.replace('~', at));
    await client.query(
      `INSERT INTO ${at}.many (name, region) VALUES ('Row', 'Moor');
     CREATE FUNCTION ${at}.slowly() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN PERFORM pg_sleep(3600); RETURN NULL; END $$;
     CREATE TRIGGER slowly AFTER UPDATE ON ${at}.many FOR EACH STATEMENT EXECUTE FUNCTION ${at}.slowly()`,
    );
    const rearrange = async () => {
      const { version } = await ada.call(contract.openApp, { params: { app: app.id } });
      return ada.send('POST', ada.path(contract.restoreDesign, { app: app.id }), {
        version,
        to: { kind: 'rearranged', plan: regionsOfMany },
        acceptLoss: true,
      });
    };
    const asleep = async (): Promise<number> =>
      (await client.query<{ n: number }>("SELECT count(*)::int AS n FROM pg_stat_activity WHERE wait_event = 'PgSleep' AND datname = current_database()"))
        .rows[0]?.n ?? 0;
    const asked = rearrange().catch(() => undefined);
    await expect.poll(asleep, { timeout: 20_000 }).toBe(1);
    first.child.kill('SIGKILL');
    await Promise.all([gone(first.child), asked]);

    const second = await processes.start();
    ada = await entered(second);
    await expect.poll(asleep, { timeout: 20_000 }).toBe(0);
    expect((await ada.call(contract.openApp, { params: { app: app.id } })).design).toEqual(app.design);
    const made = `SELECT (SELECT count(*)::int FROM pg_proc WHERE proname LIKE '\\_\\_next%') + (SELECT count(*)::int FROM pg_attribute WHERE attname LIKE '\\_\\_next%') AS n`;
    await expect.poll(async () => (await client.query<{ n: number }>(made)).rows[0]?.n, { timeout: 20_000 }).toBe(0);
    const { records } = await ada.call(contract.readPage, { params: { app: app.id, table: 'many' }, query: { search: 'Moor' } });
    expect(records.map((record) => record.values)).toMatchObject([{ m_name: 'Row', m_region: 'Moor' }]);
    await client.query(`DROP TRIGGER slowly ON ${at}.many`);
    expect((await rearrange()).status).toBe(200);
    expect((await client.query(`SELECT m.name, r.name AS region FROM ${at}.many AS m JOIN ${at}.regions AS r ON r.id = m.region_reference`)).rows).toEqual([
      { name: 'Row', region: 'Moor' },
    ]);
    await client.end();
    second.child.kill('SIGTERM');
    await gone(second.child);
  },
  90_000,
);
