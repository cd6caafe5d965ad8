import { contract, FieldPlan, type OpenApp } from '@bibliona/core';
import { median, time, type Bench, type Line } from './bench.js';

const [many, few, runs] = [1_000_000, 1_000, 7];
/** What somebody types into a picker: nothing yet, a few letters, the whole name, words in the middle, what no record has. */
const texts = ['', 'H', '12', '77712', 'h-00', 'H-0000345', 'moor', 'moor 777', 'site 42', 'zzz'];

/** How long a picker among many records looks for what is typed. */
export async function benchPickers(bench: Bench): Promise<Line[]> {
  const lines: Line[] = [];
  for (const [what, caption] of [
    ['their own text', 'Code'],
    ['a text of their parent and their own', 'Site.Name + " · " + Code'],
    ['a number and a text of their parent', 'string(Shelf) + " " + Site.Name'],
  ] as const) {
    const small = await make(bench, few, caption);
    const large = await make(bench, many, caption);
    const medians = async (app: string): Promise<readonly number[]> => {
      const path = contract.lookUp.path.replace(':app', app).replace(':table', 'hives');
      const all: number[] = [];
      for (const text of texts) {
        const times: number[] = [];
        for (let run = 0; run < runs; run += 1) times.push(await time(() => bench.call('GET', `${path}?text=${encodeURIComponent(text)}`)));
        all.push(median(times));
      }
      return all;
    };
    const [ours, theirs] = [await medians(large), await medians(small)];
    const slowest = Math.max(...ours);
    lines.push({
      what: `a picker among ${many.toLocaleString('en')} records that are called by ${what}: the slowest of ${texts.length} texts`,
      ours: `${slowest.toFixed(0)} ms`,
      theirs: 'wanted 200 ms',
      ratio: slowest / 200,
      budget: '≤ 1',
      also: `median of the texts ${median([...ours]).toFixed(0)} ms; among ${few.toLocaleString('en')} records ${median([...theirs]).toFixed(0)} ms`,
    });
  }
  return lines;
}

async function make(bench: Bench, hives: number, caption: string): Promise<string> {
  const app = (await bench.call('POST', contract.makeApp.path, { name: `Pickers ${hives}` })) as OpenApp;
  const table = (id: string, name: string, field: string, called: string) => ({
    kind: 'add_table',
    id,
    name,
    form: `fm_${id}`,
    list: `l_${id}`,
    fields: [FieldPlan.parse({ kind: 'text', id: field, name: called })],
  });
  const related = (parent: string, child: string, fieldName: string) => ({
    kind: 'add_relationship',
    id: `r_${child}`,
    parent,
    child,
    fieldId: `${child}_up`,
    fieldName,
    childrenName: child,
    whenParentRemoved: 'refuse',
  });
  await bench.call('POST', contract.changeDesign.path.replace(':app', app.id), {
    version: app.version,
    changes: [
      table('sites', 'Sites', 's_name', 'Name'),
      table('hives', 'Hives', 'h_code', 'Code'),
      { kind: 'add_field', table: 'hives', field: FieldPlan.parse({ kind: 'whole', id: 'h_shelf', name: 'Shelf' }) },
      table('visits', 'Visits', 'v_note', 'Note'),
      related('sites', 'hives', 'Site'),
      related('hives', 'visits', 'Hive'),
      { kind: 'change_table', table: 'hives', caption },
    ],
  });
  const schema = `"app_${app.id}"`;
  await bench.client.query(`INSERT INTO ${schema}.sites (name, created_by, updated_by) SELECT 'Site ' || n, 1, 1 FROM generate_series(1, 500) AS n`);
  await bench.client.query(
    `INSERT INTO ${schema}.hives (code, shelf, site, created_by, updated_by) SELECT 'H-' || lpad(n::text, 7, '0') || ' ' || (ARRAY['oak', 'moor', 'lime', 'ash'])[1 + n % 4], n, 1 + n % 500, 1, 1 FROM generate_series(1, ${hives}) AS n`,
  );
  await bench.client.query(`VACUUM ANALYZE ${schema}.hives`);
  await bench.client.query(`ANALYZE ${schema}.sites`);
  return app.id;
}
