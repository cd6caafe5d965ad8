import { contract, suggestPlan, tableOf, type AppDesign, type DesignChange, type ImportAnswer, type OpenApp, type Value } from '@bibliona/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { serverProcesses } from './processes.js';
import { Caller, field, makeApp, saveKey, table, testServer, type TestServer } from './support.js';

/** Numbers that the database gives to records: each once, without gaps but those of deleted records. */
let it: TestServer;
let ada: Caller;
let app: OpenApp;
const year = new Date().getFullYear();
const lots = table('lots', 'Lots', [
  field('running_number', 'l_no', 'Lot', { pattern: 'L-{year}-{0000}', yearly: true }),
  field('running_number', 'l_plain', 'Plain', { pattern: '({0}.)', start: 100, step: 5 }),
  field('text', 'l_name', 'Name', { unique: true }),
]);
beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Roke');
  app = await makeApp(ada, 'Numbers', [lots]);
});
afterAll(() => it.close());

const save = (writes: readonly object[]) => ({ params: { app: app.id }, body: { key: saveKey(), writes } });
const add = (name: string, more: object = {}) => ({ kind: 'add', table: 'lots', as: name, values: { l_name: name, ...more } });
const rows = async (query: Record<string, string> = {}): Promise<readonly Record<string, Value>[]> =>
  (await ada.call(contract.readPage, { params: { app: app.id, table: 'lots' }, query: { limit: '100', ...query } })).records.map((record) => record.values);
const change = async (...changes: readonly DesignChange[]): Promise<void> => {
  const { version } = await ada.call(contract.openApp, { params: { app: app.id } });
  app = await ada.call(contract.changeDesign, { params: { app: app.id }, body: { version, changes, acceptLoss: true } });
};

describe('a running number', () => {
  test('is given when the record is saved, and is in its history', async () => {
    await ada.call(contract.saveRecords, save([add('one'), add('two')]));
    expect((await rows()).map((row) => [row['l_no'], row['l_plain']])).toEqual([
      [`L-${year}-0001`, '(100.)'],
      [`L-${year}-0002`, '(105.)'],
    ]);
    const { entries } = await ada.call(contract.readHistory, { params: { app: app.id, table: 'lots', id: 2 } });
    expect(entries[0]?.changes).toContainEqual(expect.objectContaining({ field: 'l_no', after: `L-${year}-0002` }));
  });

  test('leaves no gap when a save fails, and one when a record is deleted', async () => {
    expect((await ada.refused(contract.saveRecords, save([add('three'), add('one')]))).status).toBe(422);
    await ada.call(contract.saveRecords, save([add('three')]));
    const [, , three] = (await ada.call(contract.readPage, { params: { app: app.id, table: 'lots' }, query: { limit: 10 } })).records;
    expect(three?.values['l_no']).toBe(`L-${year}-0003`);
    await ada.call(contract.saveRecords, save([{ kind: 'remove', table: 'lots', id: three?.id, rev: 1 }, add('four')]));
    expect((await rows()).map((row) => row['l_no'])).toEqual([1, 2, 4].map((n) => `L-${year}-000${n}`));
  });

  test('is entered by nobody, neither in a new record nor later', async () => {
    const refused = await ada.refused(contract.saveRecords, save([add('forged', { l_no: 'L-2020-0001' })]));
    expect(refused.body.issues).toMatchObject([{ field: 'l_no', message: "Lot is given by itself and can't be entered" }]);
    const later = save([{ kind: 'change', table: 'lots', id: 1, rev: 1, values: { l_no: 'L-2020-0001' } }]);
    expect((await ada.refused(contract.saveRecords, later)).status).toBe(422);
  });

  test('goes on above those that a file brings along', async () => {
    const csv = `Lot,Plain,Name\nL-${year}-0040,,imported\n,,next\nL-2019-9999,(7.),old\n`;
    const upload = await ada.send('POST', `/api/apps/${app.id}/imports?name=Lots.csv`, Buffer.from(csv), { 'content-type': 'application/octet-stream' });
    const { id } = upload.body as ImportAnswer;
    const read = (): Promise<ImportAnswer> => ada.call(contract.readImport, { params: { app: app.id, import: id } });
    let answer = await read();
    while (answer.state === 'reading') answer = await read();
    const columns = suggestPlan(answer.survey?.columns ?? [], app.design as AppDesign, 'lots', () => 'unused');
    const plan = { reading: answer.survey?.reading, target: { kind: 'table', table: 'lots' }, columns, badCells: 'refuse' };
    await ada.call(contract.runImport, { params: { app: app.id, import: id }, body: { version: app.version, plan } });
    do answer = await read();
    while (answer.state === 'running');
    expect([answer.state, answer.message, answer.complaints]).toEqual(['done', null, []]);
    await ada.call(contract.saveRecords, save([add('after')]));
    expect(Object.fromEntries((await rows()).slice(3).map((row) => [row['l_name'], [row['l_no'], row['l_plain']]]))).toEqual({
      imported: [`L-${year}-0040`, '(120.)'],
      next: [`L-${year}-0041`, '(125.)'],
      old: ['L-2019-9999', '(7.)'],
      after: [`L-${year}-0042`, '(130.)'],
    });
  });

  test('is sorted by its number, however many digits it has', async () => {
    const sorted = (await rows({ sort: 'l_plain', direction: 'up' })).map((row) => row['l_plain']);
    expect(sorted).toEqual(['(7.)', '(100.)', '(105.)', '(115.)', '(120.)', '(125.)', '(130.)']);
  });

  test('comes to records that are there in the order in which they were added, and back with an undo', async () => {
    await change({ kind: 'add_field', table: 'lots', field: field('running_number', 'l_late', 'Late', { pattern: 'N{000}' }) });
    expect((await rows()).map((row) => row['l_late'])).toEqual([1, 2, 3, 4, 5, 6, 7].map((n) => `N00${n}`));
    await change({ kind: 'remove_field', table: 'lots', field: 'l_late' });
    await ada.call(contract.saveRecords, save([add('between')]));
    await ada.call(contract.undoDesign, { params: { app: app.id }, body: { version: app.version, direction: 'undo', acceptLoss: true } });
    app = await ada.call(contract.openApp, { params: { app: app.id } });
    expect(tableOf(app.design as AppDesign, 'lots').fields.map((each) => each.name)).toContain('Late');
    // What came meanwhile has the next one.
    expect((await rows()).map((row) => row['l_late'])).toEqual([1, 2, 3, 4, 5, 6, 7, 8].map((n) => `N00${n}`));
  });

  test('takes over a field of texts, and fills what is empty above the largest', async () => {
    await change({ kind: 'add_field', table: 'lots', field: field('text', 'l_code', 'Code') });
    const first = (await ada.call(contract.readRecord, { params: { app: app.id, table: 'lots', id: 1 } })).record;
    await ada.call(contract.saveRecords, save([{ kind: 'change', table: 'lots', id: 1, rev: first.rev, values: { l_code: 'C-30' } }]));
    await change({ kind: 'change_field', table: 'lots', field: field('running_number', 'l_code', 'Code', { pattern: 'C-{0}' }) });
    expect((await rows()).map((row) => row['l_code']).slice(0, 3)).toEqual(['C-30', 'C-31', 'C-32']);
  });
});

test('fifty people on two servers never get the same number', { timeout: 120_000 }, async () => {
  const processes = await serverProcesses();
  const [first, second] = [await processes.start(), await processes.start()];
  const who = { email: 'ada@quillmoor.example', password: 'a long enough password' };
  const [one, other] = [new Caller(first.address), new Caller(second.address)];
  await one.call(contract.setUp, { body: { key: first.setUpKey, name: 'Ada Roke', ...who } });
  await other.call(contract.signIn, { body: who });
  const theirs = await makeApp(one, 'Busy', [lots]);
  let saved = 0;
  const until = Date.now() + 8000;
  const lane = async (n: number): Promise<void> => {
    for (let i = 0; Date.now() < until; i += 1) {
      const writes = [{ kind: 'add', table: 'lots', as: 'l', values: { l_name: `${n} ${i}` } }];
      const answer = await (n % 2 === 0 ? one : other).send('POST', `/api/apps/${theirs.id}/save`, { key: saveKey(), writes });
      if (answer.status === 200) saved += 1;
      // A server with many waiting sends some away, who come again.
      else expect([503, 429]).toContain(answer.status);
    }
  };
  await Promise.all(Array.from({ length: 50 }, (_, n) => lane(n)));
  const numbers: string[] = [];
  let after: unknown = null;
  do {
    const page: { records: readonly { values: Record<string, Value> }[]; next: unknown } = await one.call(contract.readPage, {
      params: { app: theirs.id, table: 'lots' },
      query: { limit: 500, ...(after === null ? {} : { after: JSON.stringify(after) }) },
    });
    numbers.push(...page.records.map((record) => String(record.values['l_no'])));
    after = page.next;
  } while (after !== null);
  expect(saved).toBeGreaterThan(100);
  expect(numbers).toHaveLength(saved);
  expect(new Set(numbers).size).toBe(saved);
  // And none is left out.
  expect(Math.max(...numbers.map((number) => Number(number.slice(-4))))).toBe(saved);
  await processes.close();
});
