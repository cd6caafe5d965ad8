import type { Field } from '../design/design.js';
import type { Automation } from '../design/automation.js';
import { wants } from '../feel/wants.js';
import { mapped, narrowedIfOf, staying, withParts, writtenUnlessEmpty, type PartKind, type Reference, type UncheckedDesign, type Write } from './part.js';
import { stepProblems, writtenStep, type PlaceMaker } from './steps.js';

/** Parts that an automation speaks of and that are not there (any more), or that cannot be done: each named with the automation. */
function problemsOf(automation: Automation, fields: readonly Field[], design: UncheckedDesign): readonly string[] {
  const of = `The automation ${automation.name}`;
  const problems: string[] = [];
  if (automation.fields.some((id) => !fields.some((field) => field.id === id)))
    problems.push(`${of} is triggered by changes of a field that no longer exists. Choose another field there first.`);
  const moves = new Set(design.routes.filter((route) => route.table === automation.table).flatMap((route) => route.moves.map((move) => move.id)));
  if (automation.on === 'moved' && moves.size === 0) problems.push(`${of} waits for moves, and its records have no route with moves.`);
  if (automation.moves.some((id) => !moves.has(id))) problems.push(`${of} is triggered by a move that no longer exists. Choose another move there first.`);
  automation.steps.forEach((step, i) =>
    problems.push(...stepProblems(step, { automation, design, label: `Step ${i + 1} of the automation ${automation.name}` })),
  );
  return problems;
}

/** The automation with each of its expressions as `write` gives it. */
function writtenAutomation(part: Automation, design: UncheckedDesign, write: Write): Automation {
  const place: PlaceMaker = (key, label, text, wanted) => ({
    key,
    label: `${label} of the automation ${part.name}`,
    text,
    table: part.table,
    wanted,
    owner: { kind: 'automation', id: part.id },
  });
  const steps = mapped(part.steps, (step, at) => writtenStep(step, { automation: part, design, label: `step ${at + 1}` }, place, write));
  return withParts(part, { condition: writtenUnlessEmpty(write, place('condition', 'the condition', part.condition, wants.truth)), steps });
}

export const automation: PartKind<Automation> = {
  word: 'automation',
  uniqueWithin: () => '',
  inner: (part) => part.steps,
  innerIds: 'part',
  references: (part) => [{ to: 'table', id: part.table }, ...(part.startedBy ?? []).map((id): Reference => ({ to: 'role', id }))],
  issues: (part, design) => {
    const table = design.tables.find((each) => each.id === part.table);
    return table === undefined ? [] : problemsOf(part, table.fields, design).map((problem) => ({ code: 'broken', problem }));
  },
  without: (part, gone) => {
    if (gone.has('table', part.table)) return 'remove';
    const { startedBy, ...rest } = part;
    const left = startedBy === undefined ? undefined : staying(startedBy, (role) => !gone.has('role', role));
    if (left === undefined || left === startedBy) return part;
    // Where none of its roles is left it must not become everybody's.
    return left.length === 0 ? { ...rest, isOn: false } : { ...rest, startedBy: left };
  },
  narrowed: narrowedIfOf,
  expressions: writtenAutomation,
  // That they can start it, and nothing of what it does.
  toMember: (part, member) => {
    const { startedBy, ...rest } = part;
    const isTheirs = part.isOn && part.on === 'started' && member.reaches(part.table) && (startedBy === undefined || startedBy.some(member.holds));
    return isTheirs ? { ...rest, description: '', condition: '', steps: [] } : null;
  },
  expressionsReadOthers: true,
};
