/** Moves of records along their routes: what a save can make of them, and which are open to a person. */
import {
  compileMeeting,
  compilePage,
  fieldOf,
  guardOf,
  mayMove,
  queryOf,
  restrictForRules,
  routeOf,
  startOf,
  statusesOf,
  tableOf,
  type AppDesign,
  type Move,
  type Person,
  type PlacedIssue,
  type Route,
  type Table,
  type Write,
} from '@bibliona/core';
import { run, type Runner } from '../db/run.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';

/** @throws Refusal stale_design when there is no such move (any more) */
export function moveOf(design: AppDesign, table: Table, id: string): { readonly route: Route; readonly move: Move } {
  const route = routeOf(design, table.id);
  const move = route?.moves.find((each) => each.id === id);
  if (route === undefined || move === undefined) throw new Refusal('stale_design', 'This move is no longer part of the route. Reload the page.');
  return { route, move };
}

const statusName = (design: AppDesign, route: Route, id: string): string => statusesOf(design, route).find((status) => status.id === id)?.name ?? id;

/** A status is where a record has come to by moves: no form and no list writes it. */
export function routedIssues(design: AppDesign, table: Table, write: Extract<Write, { kind: 'add' | 'change' }>): readonly PlacedIssue[] {
  const route = routeOf(design, table.id);
  const value = route === undefined ? undefined : write.values[route.field];
  if (route === undefined || value === undefined || (write.kind === 'add' && value === startOf(route))) return [];
  const name = fieldOf(table, route.field).name;
  const start = statusName(design, route, startOf(route));
  return [{ field: route.field, message: write.kind === 'add' ? `${name} begins at ${start}` : `${name} changes by the moves of its route alone` }];
}

/**
 * Holds a move against the status of its record and what its guard asks, right before it is made. False when the record is
 * gone or at another version: then there is nothing to ask.
 * @throws Refusal forbidden, invalid
 */
export async function mustBeOpen(runner: Runner, app: OpenedApp, person: Person, write: Extract<Write, { kind: 'move' }>, at: number): Promise<boolean> {
  const table = tableOf(app.design, write.table);
  const { route, move } = moveOf(app.design, table, write.move);
  if (!mayMove(move, person)) throw new Refusal('forbidden', `You can't make the move “${move.name}”.`);
  const [stands] = await statusesOfRecords(runner, app, person, route, [write.id], [move]);
  if (stands?.rev !== write.rev) return false;
  const refuse = (message: string): Refusal => new Refusal('invalid', message, [{ write: at, message }]);
  const [from, now] = [statusName(app.design, route, move.from), statusName(app.design, route, stands.status)];
  if (stands.status !== move.from) throw refuse(`“${move.name}” starts from ${from}, but this record is at ${now}.`);
  if (!stands.open.has(move.id)) throw refuse(`“${move.name}” isn't possible yet: its condition is not met.`);
  return true;
}

interface RecordStatus {
  readonly id: number;
  readonly rev: number;
  readonly status: string;
  /** Its field is empty: it has never been moved. */
  readonly isBlank: boolean;
  /** The moves whose guards the record meets. */
  readonly open: ReadonlySet<string>;
}

/** At which status records are, and of which of the moves they meet the guards: asked of them as they are, no matter who asks. */
export async function statusesOfRecords(
  runner: Runner,
  app: OpenedApp,
  person: Person,
  route: Route,
  ids: readonly number[],
  moves: readonly Move[],
): Promise<readonly RecordStatus[]> {
  if (ids.length === 0) return [];
  const query = queryOf(route.table, { where: { kind: 'ids', ids }, limit: ids.length, columns: [route.field] });
  const source = [restrictForRules(query, app.design, person, Date.now()), app.design, app.schema] as const;
  const rows = await run<Record<string, unknown> & { id: number; rev: number }>(runner, compilePage(...source));
  const guarded = moves.flatMap((move) => {
    const node = guardOf(app.design, route, move);
    return node === null ? [] : [{ move, node }];
  });
  const asked = guarded.map((each) => each.node);
  const met = guarded.length === 0 ? [] : await run<{ id: number; met: readonly number[] }>(runner, compileMeeting(source, asked));
  const free = moves.filter((move) => !guarded.some((each) => each.move === move)).map((move) => move.id);
  return rows.map(({ id, rev, [route.field]: status }) => {
    const meets = met.find((each) => each.id === id)?.met ?? [];
    return {
      id,
      rev,
      // A record that was there before the route is at its start.
      status: typeof status === 'string' ? status : startOf(route),
      isBlank: status === null,
      open: new Set([...free, ...meets.flatMap((place) => guarded[place]?.move.id ?? [])]),
    };
  });
}
