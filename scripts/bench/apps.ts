import { FieldPlan, type DesignChange, type OpenApp } from '@bibliona/core';
import { median, time, type Bench, type Line } from './bench.js';

const runs = 15;
const [few, many] = [14, 300];
const plan = (more: object): FieldPlan => FieldPlan.parse(more);

/** Tables in chains of seven, each with ten fields, a reference and four formulas that walk it. */
function changes(tables: number): readonly DesignChange[] {
  return Array.from({ length: tables }, (_, i): DesignChange[] => {
    const fields = Array.from({ length: 10 }, (__, at) =>
      plan({ kind: at % 3 === 0 ? 'whole' : 'text', id: `f_${i}_${at}`, name: at === 1 ? 'Name' : `Field ${at}`, unique: at === 1, required: at === 1 }),
    );
    const table: DesignChange = {
      kind: 'add_table',
      id: `t_${i}`,
      name: `Table ${i}`,
      description: '',
      section: `Part ${i % 9}`,
      fields,
      form: `fm_${i}`,
      list: `l_${i}`,
    };
    const formulas = [0, 1, 2, 3].map((n): DesignChange => {
      const expression = `Field 3 + ${i % 7 === 0 ? '' : 'Up.'}Field 6 + ${n}`;
      return { kind: 'add_field', table: `t_${i}`, field: plan({ kind: 'formula', id: `f_${i}_sum_${n}`, name: `Sum ${n}`, expression, digits: null }) };
    });
    if (i % 7 === 0) return [table, ...formulas];
    const [id, fieldId, parent, child] = [`r_${i}`, `f_${i}_up`, `t_${i - 1}`, `t_${i}`];
    return [
      table,
      { kind: 'add_relationship', id, parent, child, fieldId, fieldName: 'Up', childrenName: `Below ${i}`, required: false, whenParentRemoved: 'refuse' },
      ...formulas,
    ];
  }).flat();
}

async function make(bench: Bench, tables: number): Promise<OpenApp> {
  let app = (await bench.call('POST', '/api/apps', { name: `${tables} tables`, timeZone: 'UTC' })) as OpenApp;
  const all = changes(tables);
  for (let from = 0; from < all.length; from += 100)
    app = (await bench.call('POST', `/api/apps/${app.id}/changes`, { version: app.version, changes: all.slice(from, from + 100) })) as OpenApp;
  return app;
}

/** A field gets another name that four formulas of the next table name, and back. */
async function edit(bench: Bench, app: OpenApp): Promise<OpenApp> {
  const field = app.design.tables.find((table) => table.id === 't_3')?.fields.find((each) => each.id === 'f_3_6');
  const name = field?.name === 'Field 6' ? 'Weight in all' : 'Field 6';
  return (await bench.call('POST', `/api/apps/${app.id}/changes`, {
    version: app.version,
    changes: [{ kind: 'change_field', table: 't_3', field: { ...field, name } }],
  })) as OpenApp;
}

/** Opening and editing an app of 300 tables and 1,200 formulas against one of 14 tables. */
export async function benchApps(bench: Bench): Promise<Line[]> {
  const [small, large] = [await make(bench, few), await make(bench, many)];
  const lines: Line[] = [];
  for (const [what, path, budget] of [
    ['open an app of 300 tables and 1,200 formulas', '', '< 100 ms'],
    ['the counts of 300 tables', '/counts', 'recorded'],
    ['a page of a list in an app of 300 tables', '/tables/t_3/page', '≤ 1.2'],
  ] as const) {
    const [ours, theirs]: [number[], number[]] = [[], []];
    for (let i = 0; i < runs; i += 1) {
      theirs.push(await time(() => bench.call('GET', `/api/apps/${small.id}${path}`)));
      ours.push(await time(() => bench.call('GET', `/api/apps/${large.id}${path}`)));
    }
    const [a, b] = [median(ours), median(theirs)];
    lines.push({ what, ours: `${a.toFixed(1)} ms`, theirs: `one of 14: ${b.toFixed(1)} ms`, ratio: a / b, budget, also: 'over HTTP, as its builder' });
  }
  let [now, before] = [large, small];
  const [ours, theirs]: [number[], number[]] = [[], []];
  for (let i = 0; i < runs; i += 1) {
    theirs.push(await time(async () => (before = await edit(bench, before))));
    ours.push(await time(async () => (now = await edit(bench, now))));
  }
  const [a, b] = [median(ours), median(theirs)];
  lines.push({
    what: 'rename a field in an app of 300 tables and 1,200 formulas',
    ours: `${a.toFixed(1)} ms`,
    theirs: `one of 14: ${b.toFixed(1)} ms`,
    ratio: a / b,
    budget: '< 150 ms',
    also: 'over HTTP, with its migration and the answer of 1 MB',
  });
  return [...lines, await delayed(bench, small, now)];
}

/** How much longer somebody in another app waits for a page of a list while a large app is edited. */
async function delayed(bench: Bench, small: OpenApp, large: OpenApp): Promise<Line> {
  const page = (): Promise<number> => time(() => bench.call('GET', `/api/apps/${small.id}/tables/t_3/page`));
  const [beside, alone]: [number[], number[]] = [[], []];
  let now = large;
  for (let i = 0; i < runs; i += 1) {
    alone.push(await page());
    let isEdited = false;
    const edited = edit(bench, now).then((after) => {
      now = after;
      isEdited = true;
    });
    let longest = 0;
    while (!isEdited) longest = Math.max(longest, await page());
    await edited;
    beside.push(longest);
  }
  const [a, b] = [median(beside), median(alone)];
  return {
    what: 'a page of a list while another app, of 300 tables, is edited',
    ours: `${a.toFixed(1)} ms`,
    theirs: `at rest: ${b.toFixed(1)} ms`,
    ratio: a / b,
    budget: 'not 20 ms more',
    also: 'the longest of the pages that were asked for during an edit',
  };
}
