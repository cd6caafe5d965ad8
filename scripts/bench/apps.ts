import { FieldPlan, type DesignChange, type OpenApp } from '@bibliona/core';
import { median, time, type Bench, type Line } from './bench.js';

const runs = 15;
const [few, many] = [14, 150];
const plan = (more: object): FieldPlan => FieldPlan.parse(more);

/** Tables in chains of seven, each with ten fields, a reference and a formula that walks it. */
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
    const formula: DesignChange = {
      kind: 'add_field',
      table: `t_${i}`,
      field: plan({ kind: 'formula', id: `f_${i}_sum`, name: 'Sum', expression: i % 7 === 0 ? 'Field 3 + Field 6' : 'Field 3 + Up.Field 6', digits: null }),
    };
    if (i % 7 === 0) return [table, formula];
    const [id, fieldId, parent, child] = [`r_${i}`, `f_${i}_up`, `t_${i - 1}`, `t_${i}`];
    return [
      table,
      { kind: 'add_relationship', id, parent, child, fieldId, fieldName: 'Up', childrenName: `Below ${i}`, required: false, whenParentRemoved: 'refuse' },
      formula,
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

/** Opening an app of 150 tables against one of 14: what the first screen waits for, and the counts beside the names. */
export async function benchApps(bench: Bench): Promise<Line[]> {
  const [small, large] = [await make(bench, few), await make(bench, many)];
  const lines: Line[] = [];
  for (const [what, path, budget] of [
    ['open an app of 150 tables', '', '< 150 ms'],
    ['the counts of 150 tables', '/counts', 'recorded'],
    ['a page of a list in an app of 150 tables', '/tables/t_3/page', '≤ 1.2'],
  ] as const) {
    const [ours, theirs]: [number[], number[]] = [[], []];
    for (let i = 0; i < runs; i += 1) {
      theirs.push(await time(() => bench.call('GET', `/api/apps/${small.id}${path}`)));
      ours.push(await time(() => bench.call('GET', `/api/apps/${large.id}${path}`)));
    }
    const [a, b] = [median(ours), median(theirs)];
    lines.push({ what, ours: `${a.toFixed(1)} ms`, theirs: `one of 14: ${b.toFixed(1)} ms`, ratio: a / b, budget, also: 'over HTTP, as its builder' });
  }
  return lines;
}
