/** What can be wrong with automations besides their expressions. */
import type { z } from 'zod';
import { readText } from '../expression/merge-text.js';
import { labelWritten } from '../expression/rename.js';
import type { Automation, Step } from '../design/automation.js';
import { tableWritten } from './automation-expressions.js';
import { isStored, type AppDesignShape, type Field } from '../design/design.js';
import type { DesignIssue } from './issues.js';
import { folded, repeated } from './repeated.js';

type Shape = z.infer<typeof AppDesignShape>;

export function automationIssues(design: Shape): DesignIssue[] {
  const issues: DesignIssue[] = [];
  for (const one of repeated(design.automations, (automation) => folded(automation.name)))
    issues.push({ code: 'name_taken', what: 'automation', name: one.name, within: design.name });
  for (const automation of design.automations) {
    const table = design.tables.find((one) => one.id === automation.table);
    if (table === undefined) issues.push({ code: 'unknown', what: 'table', id: automation.table });
    else issues.push(...problemsOf(automation, table.fields, design).map((problem): DesignIssue => ({ code: 'broken', problem })));
    for (const step of repeated(automation.steps, (one) => one.id)) issues.push({ code: 'id_taken', id: step.id });
  }
  return issues;
}

/** Parts that an automation speaks of and that are not there (any more), or that cannot be done: each named with the automation. */
function problemsOf(automation: Automation, fields: readonly Field[], design: Shape): readonly string[] {
  const of = `The automation ${automation.name}`;
  const problems: string[] = [];
  if (automation.fields.some((id) => !fields.some((field) => field.id === id)))
    problems.push(`${of} waits for changes of a field that is not there any more. Choose another there first.`);
  const moves = new Set(design.routes.filter((route) => route.table === automation.table).flatMap((route) => route.moves.map((move) => move.id)));
  if (automation.on === 'moved' && moves.size === 0) problems.push(`${of} waits for moves, and its records have no route with moves.`);
  if (automation.moves.some((id) => !moves.has(id)))
    problems.push(`${of} waits for a move that is not part of the route any more. Choose another there first.`);
  automation.steps.forEach((step, i) => problems.push(...stepProblems(automation, step, `Step ${i + 1} of the automation ${automation.name}`, design)));
  return problems;
}

function stepProblems(automation: Automation, step: Step, says: string, design: Shape): readonly string[] {
  const problems: string[] = [];
  if (step.kind === 'mail') {
    const { to } = step;
    if (to.kind === 'role' && !design.roles.some((role) => role.id === to.role))
      problems.push(`${says} writes to a role that is not there any more. Choose another there first.`);
    for (const text of [step.subject, step.body]) {
      const read = readText(text);
      if (!read.ok) problems.push(`${says}: ${read.problem}`);
    }
    return problems;
  }
  const written = tableWritten(automation, step);
  const table = design.tables.find((one) => one.id === written);
  if (table === undefined) return [`${says} adds to a table that is not there any more. Choose another there first.`];
  const route = design.routes.find((one) => one.table === table.id);
  for (const value of repeated(step.values, (one) => one.field)) {
    const name = table.fields.find((one) => one.id === value.field)?.name ?? value.field;
    problems.push(`${says} fills ${name} twice.`);
  }
  for (const value of step.values) {
    const field = table.fields.find((one) => one.id === value.field);
    if (field === undefined) problems.push(`${says} fills a field of ${table.name} that is not there any more. Take it out there first.`);
    else if (!isStored(field)) problems.push(`${says} fills ${field.name}, which is worked out and cannot be filled.`);
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
