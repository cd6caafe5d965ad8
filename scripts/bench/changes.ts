import { contract, type OpenApp } from '@bibliona/core';
import pg from 'pg';
import { fill, makeTable, median, pause, time, type Bench, type Line } from './bench.js';

const rows = Number(process.env['BENCH_ROWS'] ?? 1_000_000);
const runs = 3;

/** Changes of the design of a table of a million records, against the same by hand; and how long others have to wait for the table. */
export async function benchChanges(bench: Bench): Promise<Line[]> {
  const { app, schema } = await makeTable(bench, 'Changed', 'date');
  await fill(bench, schema, rows);
  await bench.client.query(`VACUUM ANALYZE "${schema}".visits`);
  const [byHand, keepers] = [`"${schema}_by_hand"`, `"${schema}_keepers"`];
  await bench.client.query(`CREATE TABLE ${byHand} AS TABLE "${schema}".visits`);
  const lines: Line[] = [];
  let now = app;
  /** Sends a change, `runs` times, each time followed by the same by hand. */
  const measure = async (what: string, change: (i: number) => readonly [path: string, body: object], hand: (i: number) => readonly string[], also: string) => {
    const [ours, theirs, reading, saving]: [number[], number[], number[], number[]] = [[], [], [], []];
    for (let i = 0; i < runs; i += 1) {
      const longest = [`SELECT FROM "${schema}".visits LIMIT 1`, `UPDATE "${schema}".visits SET updated_at = now() WHERE id = 500000`].map((text) =>
        longestWait(bench, text),
      );
      const [path, body] = change(i);
      ours.push(
        await time(
          async () => (now = (await bench.call('POST', path.replace(':app', app.id), { version: now.version, ...body, acceptLoss: true })) as OpenApp),
        ),
      );
      const [read = 0, saved = 0] = await Promise.all(longest.map((end) => end()));
      reading.push(read);
      saving.push(saved);
      theirs.push(
        await time(async () => {
          for (const text of hand(i)) await bench.client.query(text);
        }),
      );
    }
    const [a, b] = [median(ours), median(theirs)];
    lines.push({
      what,
      ours: `${(a / 1000).toFixed(1)} s`,
      theirs: `${also} ${(b / 1000).toFixed(1)} s`,
      ratio: a / b,
      budget: 'recorded',
      also: `others waited at most ${(Math.max(...reading) / 1000).toFixed(1)} s to read, ${(Math.max(...saving) / 1000).toFixed(1)} s to save`,
    });
  };
  const mites = { id: 'b_mites', name: 'Mites', description: '', required: false, unique: false, default: null };
  const kinds = [
    { ...mites, kind: 'decimal', digits: 1 },
    { ...mites, kind: 'whole' },
  ];
  await measure(
    'change the kind of a field of 1,000,000 records',
    (i) => [contract.changeDesign.path, { changes: [{ kind: 'change_field', table: 'visits', field: kinds[i % 2] }] }],
    (i) => [`ALTER TABLE ${byHand} ALTER COLUMN mites TYPE ${i % 2 === 0 ? 'numeric(30, 1)' : 'bigint'} USING mites`],
    'ALTER TABLE by hand, without looking at the values,',
  );
  const plan = {
    kind: 'field_to_table',
    table: 'visits',
    field: 'b_keeper',
    made: { id: 'keepers', name: 'Keepers', form: 'fm_k', list: 'l_k', nameField: 'k_name', nameLabel: 'Name' },
    relationship: { id: 'visits_of_keeper', field: 'b_keeper_ref', childrenName: 'Visits' },
    carried: [],
  };
  await measure(
    'a text of 1,000,000 records becomes a table, and back',
    (i) => (i % 2 === 0 ? [contract.restoreDesign.path, { to: { kind: 'rearranged', plan } }] : [contract.undoDesign.path, { direction: 'undo' }]),
    (i) =>
      i % 2 === 0
        ? [
            `CREATE TABLE ${keepers} AS SELECT row_number() OVER () AS id, keeper AS name FROM (SELECT DISTINCT keeper FROM ${byHand}) AS k`,
            `ALTER TABLE ${byHand} ADD COLUMN ref bigint`,
            `UPDATE ${byHand} AS t SET ref = k.id FROM ${keepers} AS k WHERE k.name = t.keeper`,
          ]
        : [
            `UPDATE ${byHand} AS t SET keeper = k.name FROM ${keepers} AS k WHERE k.id = t.ref`,
            `ALTER TABLE ${byHand} DROP COLUMN ref`,
            `DROP TABLE ${keepers}`,
          ],
    'the statements by hand, without indexes and history,',
  );
  return lines;
}

/** Runs a statement again and again. @returns what ends it and gives the longest that one took, in milliseconds */
function longestWait(bench: Bench, text: string): () => Promise<number> {
  let isOver = false;
  let most = 0;
  const waiting = (async () => {
    const client = new pg.Client({ connectionString: bench.url });
    await client.connect();
    while (!isOver) {
      most = Math.max(most, await time(() => client.query(text)));
      await pause(10);
    }
    await client.end();
  })();
  return async () => {
    isOver = true;
    await waiting;
    return most;
  };
}
