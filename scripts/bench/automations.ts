import type { Automation, Step } from '@bibliona/core';
import { fire } from './fire.js';
import { makeTable, median, type Bench, type Line } from './bench.js';

const runs = 5;

const mailStep: Step = {
  kind: 'mail',
  id: 'st_mail',
  to: { kind: 'address', expression: '"keeper@quillmoor.example"' },
  subject: 'Visit {Code}',
  body: '{Mites} mites at {Place} on {Date}.',
};
const changeStep: Step = { kind: 'change', id: 'st_change', values: [{ field: 'b_number', itself: false, expression: 'Mites * 2' }] };

/** Saving a record whose table has an automation against saving one whose table has none. */
export async function benchAutomations(bench: Bench): Promise<Line[]> {
  const without = await makeTable(bench, 'Without');
  const lines: Line[] = [];
  for (const [what, condition, step, budget] of [
    ['save with an automation that looks on', 'Mites > 100', changeStep, 'recorded'],
    ['save with an automation that changes the record', 'Mites < 100', changeStep, 'recorded'],
    ['save with an automation that writes a mail', 'Mites < 100', mailStep, 'recorded'],
  ] as const) {
    const { app } = await makeTable(bench, `With ${lines.length}`);
    const automation: Automation = {
      id: 'au_bench',
      name: 'Bench',
      description: '',
      section: '',
      isOn: true,
      table: 'visits',
      on: 'added',
      fields: [],
      moves: [],
      condition,
      steps: [step],
    };
    await bench.call('POST', `/api/apps/${app.id}/changes`, { version: app.version, changes: [{ kind: 'put', part: 'automation', value: automation }] });
    const [ours, theirs]: [number[], number[]] = [[], []];
    for (let i = 0; i < runs; i += 1) {
      ours.push(await fire(`${bench.address}/api/apps/${app.id}/save`, bench.cookie));
      theirs.push(await fire(`${bench.address}/api/apps/${without.app.id}/save`, bench.cookie));
    }
    const [a, b] = [median(ours), median(theirs)];
    const also = step === mailStep ? 'the same process sends the mails to its mailbox meanwhile' : 'with its condition, checks, history and log';
    lines.push({ what, ours: `${a.toFixed(0)}/s`, theirs: `without ${b.toFixed(0)}/s`, ratio: a / b, budget, also });
  }
  return lines;
}
