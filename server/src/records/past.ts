/** The past of one record as far as a person can know of it: grants are asked of the record as it was at each line. */
import {
  written,
  compileChildHistory,
  compileHistory,
  compileMeetingOf,
  queryOf,
  restrictForRules,
  sightOf,
  type Field,
  type HistoryEntry,
  type Person,
  type RecordState,
  type Table,
  type Value,
} from '@bibliona/core';
import { run, type Runner } from '../db/run.js';
import type { OpenedApp } from '../http/serve.js';
import { asStored, storedRecords } from './as-stored.js';

export type Values = Readonly<Record<string, Value>>;

/** A line of the history of a record; of `before` and `after` only what the person can know is left. */
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
  const told = await teller(runner, app, person, table, sight.grants, states);
  return lines.flatMap((line, at) => told(line, at, at + 1));
}

/** A line of the history of a child. */
export interface ChildLine extends PastLine {
  readonly record: number;
}

/**
 * The same of the children that a record has over a relationship, or had when the line was written. That a child was removed
 * is only told who sees all of its table: grants cannot be asked of a record that is gone.
 */
export async function pastOfChildren(
  runner: Runner,
  app: Pick<OpenedApp, 'design' | 'schema'>,
  person: Person,
  { child, field, parent }: { readonly child: Table; readonly field: Field; readonly parent: number },
  limit: number,
): Promise<readonly ChildLine[]> {
  const sight = sightOf(app.design, person, child.id, 'see');
  const lines = await run<ChildLine>(runner, compileChildHistory(app.schema, child, field, parent, limit));
  if (lines.length === 0) return [];
  const ids = [...new Set(lines.map((line) => line.record))];
  const present = await storedRecords(runner, app, person, child, ids);
  const states: RecordState[] = [];
  const placed: { readonly line: ChildLine; readonly at: number }[] = [];
  for (const id of ids) {
    const own = lines.filter((line) => line.record === id);
    const now = Object.entries(present.get(id)?.values ?? {}).map(([name, value]) => [name, written(value)]);
    placed.push(...own.map((line, i) => ({ line, at: states.length + i })));
    states.push(...statesOf(Object.fromEntries(now) as Values, own).map((values): RecordState => ({ id, values })));
  }
  const belonged = placed.filter(({ at }) => states[at]?.values[field.id] === parent || states[at + 1]?.values[field.id] === parent);
  const visible = sight.kind === 'all' ? belonged : belonged.filter(({ line }) => present.has(line.record));
  const newestFirst = (all: readonly ChildLine[]): readonly ChildLine[] => [...all].sort((childLine, other) => other.id - childLine.id);
  if (sight.kind === 'all') return newestFirst(visible.map(({ line }) => line));
  // Whose child it is has to be theirs to know, too.
  const told = await teller(runner, app, person, child, sight.grants, states, (grant) => !grant.withheld.has(field.id));
  return newestFirst(visible.flatMap(({ line, at }) => told(line, at, at + 1)));
}

type Grants = Extract<ReturnType<typeof sightOf>, { readonly grants: unknown }>['grants'];

/** Tells of a line what the person can know of it, by the states after and before it; nothing when they did not see the record then. */
async function teller(
  runner: Runner,
  app: Pick<OpenedApp, 'design' | 'schema'>,
  person: Person,
  table: Table,
  grants: Grants,
  states: readonly RecordState[],
  counts: (grant: Grants[number]) => boolean = () => true,
): Promise<<L extends PastLine>(line: L, after: number, before: number) => L[]> {
  const asked = grants.flatMap((grant) => (grant.condition === null ? [] : [grant.condition]));
  const source = [restrictForRules(queryOf(table.id), app.design, person, Date.now()), app.design, app.schema] as const;
  const rows = await run<{ id: number; met: readonly number[] }>(runner, compileMeetingOf(source, states, asked));
  const met = new Map(rows.map((row) => [row.id, new Set(row.met.map((at) => asked[at]))]));
  const holding = (state: number) => grants.filter((grant) => grant.condition === null || met.get(state)?.has(grant.condition) === true);
  const told = (line: Values | null, held: Grants): Values | null =>
    line && Object.fromEntries(Object.entries(line).filter(([name]) => held.some((grant) => !grant.withheld.has(name))));
  return (line, after, before) => {
    const held = holding(after);
    return !held.some(counts) ? [] : [{ ...line, before: told(line.before, holding(before)), after: told(line.after, held) }];
  };
}

/** What the record held after each line, the newest first, and at last what it held before the oldest. */
function statesOf(now: Values, lines: readonly Pick<PastLine, 'before'>[]): readonly Values[] {
  const states: Values[] = [now];
  for (const line of lines) states.push({ ...states.at(-1), ...line.before });
  return states;
}
