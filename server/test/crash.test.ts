import { contract, suggestPlan, type AppDesign, type ImportAnswer } from '@bibliona/core';
import pg from 'pg';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { gone, serverProcesses, type ServerProcesses } from './processes.js';
import { Caller, field, makeApp, saveKey, table } from './support.js';

let processes: ServerProcesses;
beforeAll(async () => {
  processes = await serverProcesses();
});
afterAll(() => processes.close());

test('kill -9 in the middle of saves and an import loses nothing that was confirmed and leaves nothing half done', async () => {
  const first = await processes.start();
  const ada = new Caller(first.address);
  await ada.call(contract.setUp, { body: { key: first.setUpKey, name: 'Ada Roke', email: 'ada@quillmoor.example', password: 'a long enough password' } });
  const app = await makeApp(ada, 'Crash', [table('many', 'Many', [field('text', 'm_name', 'Name'), field('whole', 'm_number', 'Number')])]);
  const upload = await ada.send(
    'POST',
    `/api/apps/${app.id}/imports?name=Many.csv`,
    Buffer.from(`Name,Number\n${Array.from({ length: 600_000 }, (_, i) => `row ${i},${i}`).join('\n')}\n`),
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
  const again = new Caller(second.address);
  await again.call(contract.signIn, { body: { email: 'ada@quillmoor.example', password: 'a long enough password' } });
  const client = new pg.Client({ connectionString: processes.url });
  await client.connect();
  const name = `"app_${app.id}"`;
  // Connections of the killed process are still being rolled back for a moment.
  const ids = new Set((await client.query<{ id: string }>(`SELECT id FROM ${name}.many`)).rows.map((row) => Number(row.id)));
  expect(confirmed.filter((one) => !ids.has(one))).toEqual([]);
  const imported = await client.query(`SELECT count(*)::int AS n FROM ${name}.many WHERE name LIKE 'row %'`);
  expect(imported.rows).toEqual([{ n: 0 }]);
  // Each record that is there has its line in the history, and no line is without its record.
  const history = await client.query(
    `SELECT count(*)::int AS n FROM ${name}._history AS h FULL JOIN ${name}.many AS m ON h.record_id = m.id WHERE h.id IS NULL OR m.id IS NULL`,
  );
  expect(history.rows).toEqual([{ n: 0 }]);
  // The import that died is told as such once its silence is long enough, and can be started again.
  await client.query(`UPDATE bibliona.import SET facts = facts || '{"beat": 0}'`);
  const dead = await again.call(contract.readImport, { params: { app: app.id, import: id } });
  expect(dead).toMatchObject({ state: 'failed' });
  expect(dead.message).toContain('Nothing was added');
  await client.end();

  const parent = gone(second.child);
  second.child.kill('SIGTERM');
  expect(await parent).toBe(0);
}, 90_000);
