import { togetherOfConstraint, type AppDesign, type Locale, type MigrationStep, type StepAnswer } from '@bibliona/core';
import type { QueryRunner } from 'typeorm';
import { fieldOfError, pgErrorOf } from '../db/errors.js';

/** Asks the data, as it is, what each step would find. */
export async function askProbes(runner: QueryRunner, steps: readonly MigrationStep[], locale: Locale): Promise<readonly StepAnswer[]> {
  const answers: StepAnswer[] = [];
  for (const step of steps) {
    if (step.probe === null) {
      answers.push({ effect: step.effect, says: step.description, found: null, blocks: false });
      continue;
    }
    const [row] = (await runner.query(step.probe.text)) as { count: number; samples: string[] }[];
    const count = row?.count ?? 0;
    answers.push({
      effect: step.effect,
      says: step.description,
      found: count === 0 ? null : step.probe.sentence(count, row?.samples ?? [], locale),
      blocks: count > 0 && step.probe.meaning === 'blocks',
    });
  }
  return answers;
}

/** What PostgreSQL says of a rule that the data does not meet, in the words of the design; null for any other error. */
export function pgMessage(error: unknown, design: AppDesign): string | null {
  const said = pgErrorOf(error);
  const { code } = said;
  const together = said.constraint === undefined ? [] : togetherOfConstraint(design.tables, said.constraint);
  const name = together.length > 0 ? together.map((field) => field.name).join(' and ') : (fieldOfError(said, design)?.name ?? 'a field');
  if (code === '23505') return `Two records share the same ${name}. Change one of them first.`;
  if (code === '23502') return `Some records have no ${name}. Fill them first, or give the field a default.`;
  if (code === '23503') return `Some records refer through ${name} to a deleted record. Clear those first.`;
  if (code === '23514') return `Some records have a ${name} that does not fit. Change those first.`;
  if (code === '22003') return `Some values of ${name} are too large for the new kind.`;
  return null;
}
