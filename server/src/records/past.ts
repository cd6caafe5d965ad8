/** The past of one record as far as a person may know of it: grants are asked of the record as it stood at each line. */
import {
  compileHistory,
  compileMeetingOf,
  queryOf,
  restrictForRules,
  sightOf,
  type HistoryEntry,
  type Person,
  type RecordState,
  type Table,
  type Value,
} from '@bibliona/core';
import { run, type Runner } from '../db/run.js';
import type { OpenedApp } from '../http/serve.js';
import { asStored } from './as-stored.js';

export type Values = Readonly<Record<string, Value>>;

/** A line of the history of a record; of `before` and `after` only what the person may know is left. */
export interface PastLine {
  readonly id: number;
  readonly at: Date;
  readonly kind: HistoryEntry['kind'];
  readonly before: Values | null;
  readonly after: Values | null;
  readonly save: string;
  readonly person_id: number | null;
  readonly person: string | null;
  readonly automatic: boolean;
}

/**
 * The lines of a record that is there, the newest first. Where the person would not have seen the record there is no line;
 * a value is left out where they would not have seen it, so that what happened before a record came into sight stays hidden.
 */
export async function pastOf(
  runner: Runner,
  app: Pick<OpenedApp, 'design' | 'schema'>,
  person: Person,
  table: Table,
  id: number,
  limit: number,
): Promise<readonly PastLine[]> {
  const lines = await run<PastLine>(runner, compileHistory(app.schema, table, id, limit));
  const sight = sightOf(app.design, person, table.id, 'see');
  if (sight.kind === 'all' || lines.length === 0) return lines;
  const states = statesOf((await asStored(runner, app, person, table, id))?.values ?? {}, lines).map((values): RecordState => ({ id, values }));
  const asked = sight.grants.flatMap((grant) => (grant.condition === null ? [] : [grant.condition]));
  const source = [restrictForRules(queryOf(table.id), app.design, person, Date.now()), app.design, app.schema] as const;
  const rows = await run<{ id: number; met: readonly number[] }>(runner, compileMeetingOf(source, states, asked));
  const met = new Map(rows.map((row) => [row.id, new Set(row.met.map((at) => asked[at]))]));
  const holding = (state: number) => sight.grants.filter((grant) => grant.condition === null || met.get(state)?.has(grant.condition) === true);
  const told = (line: Values | null, grants: ReturnType<typeof holding>): Values | null =>
    line && Object.fromEntries(Object.entries(line).filter(([field]) => grants.some((grant) => !grant.withheld.has(field))));
  return lines.flatMap((line, at) => {
    const [after, before] = [holding(at), holding(at + 1)];
    if (after.length === 0) return [];
    return [{ ...line, before: told(line.before, before), after: told(line.after, after) }];
  });
}

/** What the record held after each line, the newest first, and at last what it held before the oldest. */
function statesOf(now: Values, lines: readonly Pick<PastLine, 'before'>[]): readonly Values[] {
  const states: Values[] = [now];
  for (const line of lines) states.push({ ...states.at(-1), ...line.before });
  return states;
}
