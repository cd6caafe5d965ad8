import {
  compileCaptions,
  localeFor,
  queryOf,
  restrict,
  togetherOfConstraint,
  type AppDesign,
  type MigrationStep,
  type Person,
  type StepAnswer,
} from '@bibliona/core';
import type { QueryRunner } from 'typeorm';
import { fieldOfError, pgErrorOf } from '../db/errors.js';
import { run } from '../db/run.js';
import type { OpenedApp } from '../http/serve.js';

/** Asks the data, as it is, what each step would find. */
export async function askProbes(
  runner: QueryRunner,
  steps: readonly MigrationStep[],
  before: Pick<OpenedApp, 'schema' | 'design'>,
  person: Person,
): Promise<readonly StepAnswer[]> {
  const locale = localeFor(before.design, person);
  const answers: StepAnswer[] = [];
  for (const step of steps) {
    if (step.probe === null) {
      answers.push({ effect: step.effect, description: step.description, found: null, blocks: false, records: [] });
      continue;
    }
    const [row] = (await runner.query(step.probe.text)) as { count: number; samples: string[]; ids: number[] }[];
    const count = row?.count ?? 0;
    answers.push({
      effect: step.effect,
      description: step.description,
      found: count === 0 ? null : step.probe.sentence(count, row?.samples ?? [], locale),
      blocks: count > 0 && step.probe.meaning === 'blocks',
      records: await named(runner, before, person, step.probe.table, row?.ids ?? []),
    });
  }
  return answers;
}

async function named(
  runner: QueryRunner,
  { design, schema }: Pick<OpenedApp, 'schema' | 'design'>,
  person: Person,
  table: string | undefined,
  ids: readonly number[],
) {
  if (table === undefined || ids.length === 0 || !design.tables.some((each) => each.id === table)) return [];
  const query = restrict(queryOf(table, { where: { kind: 'ids', ids }, limit: ids.length }), design, person, Date.now());
  const rows = await run<{ id: number; caption: string }>(runner, compileCaptions(query, design, schema));
  return rows.map(({ id, caption }) => ({ table, id, caption: caption.slice(0, 200) }));
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
  if (code === '54000') return `Some values of ${name} are too long for an index. Shorten those first.`;
  if (code === '22003') return `Some values of ${name} are too large for the new kind.`;
  return null;
}
