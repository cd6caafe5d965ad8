import { contract, type OpenApp } from '@bibliona/core';
import pg from 'pg';
import { fill, makeTable, median, pause, time, type Bench, type Line } from './bench.js';

const rows = Number(process.env['BENCH_ROWS'] ?? 1_000_000);
const runs = 3;

/** Changes of the design of a table of a million records, against the same statement by hand; and how long others have to wait for the table. */
export async function benchChanges(bench: Bench): Promise<Line[]> {
  const { app, schema } = await makeTable(bench, 'Changed', 'date');
  await fill(bench, schema, rows);
  await bench.client.query(`VACUUM ANALYZE "${schema}".visits`);
  await bench.client.query(`CREATE TABLE "${schema}_by_hand" AS TABLE "${schema}".visits`);
  const [ours, theirs, waited]: [number[], number[], number[]] = [[], [], []];
  let now = app;
  for (let i = 0; i < runs; i += 1) {
    const isWhole = i % 2 === 0;
    const field = { id: 'b_mites', name: 'Mites', description: '', required: false, unique: false, default: null };
    const made = isWhole ? { ...field, kind: 'decimal', digits: 1 } : { ...field, kind: 'whole' };
    const longest = longestWait(bench, schema);
    ours.push(
      await time(async () => {
        now = (await bench.call('POST', contract.changeDesign.path.replace(':app', app.id), {
          version: now.version,
          changes: [{ kind: 'change_field', table: 'visits', field: made }],
          acceptLoss: true,
        })) as OpenApp;
      }),
    );
    waited.push(await longest());
    theirs.push(
      await time(() => bench.client.query(`ALTER TABLE "${schema}_by_hand" ALTER COLUMN mites TYPE ${isWhole ? 'numeric(30, 1)' : 'bigint'} USING mites`)),
    );
  }
  const [a, b] = [median(ours), median(theirs)];
  return [
    {
      what: 'change the kind of a field of 1,000,000 records',
      ours: `${(a / 1000).toFixed(1)} s`,
      theirs: `ALTER TABLE by hand, without looking at the values, ${(b / 1000).toFixed(1)} s`,
      ratio: a / b,
      budget: 'recorded',
      also: `others had to wait for the table for at most ${(Math.max(...waited) / 1000).toFixed(1)} s`,
    },
  ];
}

/** Reads a record of the table again and again. @returns what ends it and gives the longest that one took, in milliseconds */
function longestWait(bench: Bench, schema: string): () => Promise<number> {
  let isOver = false;
  let most = 0;
  const reading = (async () => {
    const client = new pg.Client({ connectionString: bench.url });
    await client.connect();
    while (!isOver) {
      most = Math.max(most, await time(() => client.query(`SELECT FROM "${schema}".visits LIMIT 1`)));
      await pause(10);
    }
    await client.end();
  })();
  return async () => {
    isOver = true;
    await reading;
    return most;
  };
}
