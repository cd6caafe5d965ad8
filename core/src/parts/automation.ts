import { isStored, type Field } from '../design/design.js';
import { type Automation, type Recipient, type Step, type StepValue, tableWritten } from '../design/automation.js';
import { mappedText, readText } from '../expression/merge-text.js';
import { labelWritten } from '../expression/rename.js';
import { wants, type Wanted } from '../feel/wants.js';
import { mapped, withParts, writtenUnlessEmpty, type ExpressionPlace, type PartKind, type UncheckedDesign, type Write } from './part.js';
import { repeated } from './repeated.js';
import { wantedValue } from './wanted.js';

/** Parts that an automation speaks of and that are not there (any more), or that cannot be done: each named with the automation. */
function problemsOf(automation: Automation, fields: readonly Field[], design: UncheckedDesign): readonly string[] {
  const of = `The automation ${automation.name}`;
  const problems: string[] = [];
  if (automation.fields.some((id) => !fields.some((field) => field.id === id)))
    problems.push(`${of} is triggered by changes of a field that no longer exists. Choose another field there first.`);
  const moves = new Set(design.routes.filter((route) => route.table === automation.table).flatMap((route) => route.moves.map((move) => move.id)));
  if (automation.on === 'moved' && moves.size === 0) problems.push(`${of} waits for moves, and its records have no route with moves.`);
  if (automation.moves.some((id) => !moves.has(id))) problems.push(`${of} is triggered by a move that no longer exists. Choose another move there first.`);
  automation.steps.forEach((step, i) => problems.push(...stepProblems(automation, step, `Step ${i + 1} of the automation ${automation.name}`, design)));
  return problems;
}

function stepProblems(automation: Automation, step: Step, says: string, design: UncheckedDesign): readonly string[] {
  const problems: string[] = [];
  if (step.kind === 'mail') {
    const { to } = step;
    if (to.kind === 'role' && !design.roles.some((role) => role.id === to.role))
      problems.push(`${says} sends mail to a role that no longer exists. Choose another role there first.`);
    for (const text of [step.subject, step.body]) {
      const read = readText(text);
      if (!read.ok) problems.push(`${says}: ${read.problem}`);
    }
    return problems;
  }
  const written = tableWritten(automation, step);
  const table = design.tables.find((one) => one.id === written);
  if (table === undefined) return [`${says} adds records to a table that no longer exists. Choose another table there first.`];
  const route = design.routes.find((one) => one.table === table.id);
  for (const value of repeated(step.values, (one) => one.field)) {
    const name = table.fields.find((one) => one.id === value.field)?.name ?? value.field;
    problems.push(`${says} fills ${name} twice.`);
  }
  for (const value of step.values) {
    const field = table.fields.find((one) => one.id === value.field);
    if (field === undefined) problems.push(`${says} fills a field of ${table.name} that no longer exists. Take it out there first.`);
    else if (!isStored(field)) problems.push(`${says} fills ${field.name}, which is calculated and can't be filled.`);
    else if (route?.field === field.id) problems.push(`${says} fills ${field.name}, which changes by the moves of its route alone.`);
    else if (value.itself) {
      const parent = design.relationships.find((one) => one.field === field.id)?.parent;
      if (parent !== automation.table) problems.push(`${says} cannot put this record into ${field.name}: it holds records of another table.`);
    } else if (value.expression.trim() === '') problems.push(`${says} does not say what ${field.name} is filled with.`);
    else if (field.kind === 'choice') {
      const label = labelWritten(value.expression);
      if (label !== null && !field.choices.some((one) => one.label === label)) problems.push(`${says}: “${label}” is none of the choices of ${field.name}.`);
    }
  }
  return problems;
}

/** The automation with each of its expressions as `write` gives it. */
function writtenAutomation(part: Automation, design: UncheckedDesign, write: Write): Automation {
  const place = (key: string, says: string, text: string, wanted: Wanted): ExpressionPlace => ({
    key,
    says: `${says} of the automation ${part.name}`,
    text,
    table: part.table,
    wanted,
    owner: { kind: 'automation', id: part.id },
  });
  const ofText = (key: string, says: string, text: string): string =>
    mappedText(text, (expression, at) => write(place(`${key} ${at}`, `“{${expression}}” in ${says}`, expression, wants.shown)));
  const ofTo = (to: Recipient, key: string, nth: string): Recipient =>
    to.kind === 'address' ? withParts(to, { expression: write(place(`${key} to`, `the address in ${nth}`, to.expression, wants.text)) }) : to;
  const ofValue = (value: StepValue, step: Step, nth: string): StepValue => {
    const table = design.tables.find((one) => one.id === tableWritten(part, step));
    const field = table?.fields.find((one) => one.id === value.field);
    if (table === undefined || field === undefined || value.itself || value.expression === '') return value;
    const of = place(`${step.id} ${field.id}`, `the value for ${field.name} in ${nth}`, value.expression, wantedValue(design, field));
    return withParts(value, { expression: write({ ...of, fills: { table: table.id, field: field.id } }) });
  };
  const steps = mapped(part.steps, (step, at): Step => {
    const nth = `step ${at + 1}`;
    if (step.kind !== 'mail') return withParts(step, { values: mapped(step.values, (value) => ofValue(value, step, nth)) });
    return withParts(step, {
      to: ofTo(step.to, step.id, nth),
      subject: ofText(`${step.id} subject`, `the subject in ${nth}`, step.subject),
      body: ofText(`${step.id} body`, `the text in ${nth}`, step.body),
    });
  });
  return withParts(part, { condition: writtenUnlessEmpty(write, place('condition', 'the condition', part.condition, wants.truth)), steps });
}

export const automation: PartKind<Automation> = {
  word: 'automation',
  uniqueWithin: () => '',
  inner: (part) => part.steps,
  innerIds: 'part',
  references: (part) => [{ to: 'table', id: part.table }],
  issues: (part, design) => {
    const table = design.tables.find((one) => one.id === part.table);
    return table === undefined ? [] : problemsOf(part, table.fields, design).map((problem) => ({ code: 'broken', problem }));
  },
  without: (part, gone) => (gone.has('table', part.table) ? 'remove' : part),
  expressions: writtenAutomation,
  toMember: () => null,
  expressionsReadOthers: true,
};
