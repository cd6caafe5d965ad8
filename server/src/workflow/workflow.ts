/** Where records are on their routes: for the form, for the people who have to move them on, and for the proof of a route. */
import {
  compileCount,
  compileLastChanged,
  compileCaptions,
  compilePage,
  compileResult,
  designFor,
  guardOf,
  isEnd,
  mayMove,
  membersOf,
  queryOf,
  restrict,
  routeOf,
  sightOf,
  startOf,
  statusesOf,
  tableOf,
  type Condition,
  type Move,
  type MovesAnswer,
  type Person,
  type Query,
  type Route,
  type WaitingAnswer,
  type WalkAnswer,
  type Walked,
} from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { run } from '../db/run.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { questionAsked } from '../queries/read-rows.js';
import type { Members } from '../people/members.js';
import { pastOf } from '../records/past.js';
import { RecordReader } from '../records/read.js';
import { statusesOfRecords } from '../records/moves.js';

const historyRead = 500;
const waitingShown = 100;
// Counting further makes a menu wait.
const waitingCounted = 1000;

export class Workflow {
  constructor(
    private readonly database: DataSource,
    private readonly members: Members,
  ) {}

  /** @throws Refusal not_found when the record is not theirs to see, or has no route */
  async moves(app: OpenedApp, person: Person, tableId: string, id: number): Promise<MovesAnswer> {
    const route = routeOf(app.design, tableId);
    if (route === undefined) throw new Refusal('not_found', 'The records of this table have no route.');
    const { values } = await new RecordReader(this.database, app, person).record(tableId, id);
    const told = designFor(app.design, person).routes.find((each) => each.id === route.id);
    const mine = route.moves.filter((move) => mayMove(move, person));
    const [stands] = await statusesOfRecords(this.database, app, person, route, [id], mine);
    const status = stands?.status ?? null;
    const offered = mine
      .filter((move) => move.from === status)
      .map((move) => ({ id: move.id, isOpen: stands?.open.has(move.id) === true, guard: told?.moves.find((each) => each.id === move.id)?.guard ?? '' }));
    // A person who does not see the status is not told where it has been; an empty one looks the same as one that is hidden.
    const isShown = stands !== undefined && (stands.isBlank ? !withholds(app, person, route) : values[route.field] === stands.status);
    if (!isShown) return { status: null, walk: [], moves: [] };
    return { status, walk: [...(await this.walk(app, person, route, id, status))], moves: offered };
  }

  /** The statuses in which this person would have seen the record, the first one first. Records that were imported have no beginning here. */
  private async walk(app: OpenedApp, person: Person, route: Route, id: number, status: string | null): Promise<readonly Walked[]> {
    const entries = await pastOf(this.database, app, person, tableOf(app.design, route.table), id, historyRead);
    const walked: Walked[] = [];
    for (const entry of [...entries].reverse()) {
      const at = entry.at.toISOString();
      const to = entry.after?.[route.field];
      if (entry.kind === 'import') walked.push({ status: null, at, by: entry.person });
      else if (to !== undefined && typeof to === 'string') walked.push({ status: to, at, by: entry.person });
    }
    // An imported record came in at the status that its first move left, or at the one where it still stands.
    const [first] = walked;
    if (first !== undefined && first.status === null) {
      const change = [...entries].reverse().find((entry) => entry.kind === 'change' && entry.before?.[route.field] !== undefined);
      const left = change === undefined ? status : (change.before?.[route.field] ?? startOf(route));
      walked[0] = { ...first, status: typeof left === 'string' ? left : status };
    }
    return walked;
  }

  /** The records that someone should move on, the oldest first: counted all, shown page by page. */
  async waiting(app: OpenedApp, person: Person, from: { readonly route?: string | undefined; readonly after?: number | undefined }): Promise<WaitingAnswer> {
    const routes: WaitingAnswer['routes'] = [];
    for (const route of app.design.routes) {
      if (from.route !== undefined && from.route !== route.id) continue;
      // What has come to its end waits for nobody, even where a move leads on from there.
      const ends = new Set(
        statusesOf(app.design, route)
          .filter(isEnd)
          .map((status) => status.id),
      );
      const mine = route.moves.filter((move) => mayMove(move, person) && move.duty === 'should' && !ends.has(move.from));
      if (mine.length === 0) continue;
      const where: Condition = { kind: 'any', of: mine.map((move) => this.canTake(app, person, route, move)) };
      const source = (parts: Partial<Query>) =>
        [restrict(queryOf(route.table, { where, ...parts }), app.design, person, Date.now()), app.design, app.schema] as const;
      const after = from.after === undefined ? null : { value: null, id: from.after };
      const rows = await run<{ id: number; rev: number }>(this.database, compilePage(...source({ after, limit: waitingShown + 1 })));
      const [counted] = await run<{ count: number }>(this.database, compileCount(source({}), waitingCounted + 1));
      const count = counted?.count ?? 0;
      const shown = rows.slice(0, waitingShown);
      const ids = shown.map((row) => row.id);
      const stands = new Map((await statusesOfRecords(this.database, app, person, route, ids, mine)).map((status) => [status.id, status]));
      const called = new Map((await new RecordReader(this.database, app, person).captions(route.table, ids)).map((caption) => [caption.id, caption.caption]));
      const records = shown.flatMap(({ id, rev }) => {
        const stand = stands.get(id);
        const moves = mine.filter((move) => move.from === stand?.status && stand.open.has(move.id)).map((move) => move.id);
        return stand === undefined ? [] : [{ id, rev, caption: called.get(id) ?? '', status: stand.status, moves }];
      });
      routes.push({ route: route.id, records, more: rows.length > waitingShown, count: Math.min(count, waitingCounted), atLeast: count > waitingCounted });
    }
    return { routes };
  }

  /** Records that stand where a move starts and meet its guard. */
  private canTake(app: OpenedApp, person: Person, route: Route, move: Move): Condition {
    // A record without a status is at the start; where the field is hidden it says nothing.
    const blank = move.from === startOf(route) && !withholds(app, person, route);
    const statuses = [move.from, ...(blank ? [null] : [])];
    const guard = guardOf(app.design, route, move);
    return {
      kind: 'all',
      of: [
        { kind: 'any', of: statuses.map((value) => ({ kind: 'equals', field: route.field, value })) },
        ...(guard === null ? [] : [{ kind: 'rule', condition: guard } as const]),
      ],
    };
  }

  /** How many records are at each status, by the ids of the statuses. */
  async counts(app: OpenedApp, person: Person, id: string): Promise<Record<string, number>> {
    const route = this.route(app, id);
    const named = membersOf(app.design, route.table).find((member) => member.kind === 'field' && member.field.id === route.field)?.name ?? '';
    const columns = [
      { id: 'c_status', name: 'Status', expression: named, summary: null, digits: null },
      { id: 'c_count', name: 'Count', expression: '', summary: 'count', digits: null },
    ] as const;
    const { asked } = questionAsked({ kind: 'table', table: route.table, condition: '', columns }, app);
    const source = [restrict(asked, app.design, person, Date.now()), app.design, app.schema] as const;
    const rows = await run<{ cells: [string | null, string] }>(this.database, compileResult(source, { limit: 500 }));
    return Object.fromEntries(
      statusesOf(app.design, route).map((status) => [status.id, countOf(rows, status.name) + (status.id === startOf(route) ? countOf(rows, null) : 0)]),
    );
  }

  private route(app: OpenedApp, id: string): Route {
    const route = app.design.routes.find((each) => each.id === id);
    if (route === undefined) throw new Refusal('not_found', 'This route no longer exists in the app.');
    return route;
  }

  /** A real record through its history, and who could move it on. */
  async proof(app: OpenedApp, builder: Person, routeId: string, asked: number | undefined): Promise<WalkAnswer> {
    const route = this.route(app, routeId);
    const id = asked ?? (await this.lastMoved(app, builder, route));
    const record = id === null ? undefined : await this.called(app, builder, route, id);
    if (id === null || record === undefined) return { record: null, walk: [], people: [] };
    const [stands] = await statusesOfRecords(this.database, app, builder, route, [id], []);
    const status = stands?.status ?? null;
    const { people } = await this.members.list(app);
    const ends = statusesOf(app.design, route).find((each) => each.id === status);
    const said: WalkAnswer['people'] = [];
    for (const { id: personId, name, role, roles } of people) {
      const person = await this.members.person(app, personId);
      const sees = (await this.called(app, person, route, id)) !== undefined;
      const may = route.moves.filter((move) => move.from === status && mayMove(move, person));
      const [theirs] = await statusesOfRecords(this.database, app, person, route, [id], may);
      const moves = sees ? may.filter((move) => theirs?.open.has(move.id) === true).map((move) => move.id) : [];
      const why = moves.length > 0 ? 'can' : ends !== undefined && isEnd(ends) ? 'end' : !sees ? 'not_seen' : may.length === 0 ? 'no_role' : 'guard';
      const names = role === 'builder' ? ['builder'] : app.design.roles.filter((each) => roles.includes(each.id)).map((each) => each.name);
      said.push({ id: personId, name, roles: names, moves, why });
    }
    return { record: { id, caption: record, status }, walk: [...(await this.walk(app, builder, route, id, status))], people: said };
  }

  private async called(app: OpenedApp, person: Person, route: Route, id: number): Promise<string | undefined> {
    const query = queryOf(route.table, { where: { kind: 'ids', ids: [id] }, limit: 1 });
    const [row] = await run<{ caption: string }>(this.database, compileCaptions(restrict(query, app.design, person, Date.now()), app.design, app.schema));
    return row?.caption;
  }

  /** The record whose status changed last; where none has been moved yet, the newest one. */
  private async lastMoved(app: OpenedApp, builder: Person, route: Route): Promise<number | null> {
    const [moved] = await run<{ id: number }>(this.database, compileLastChanged(app.schema, tableOf(app.design, route.table), route.field));
    if (moved !== undefined) return moved.id;
    const newest = restrict(queryOf(route.table, { backwards: true, limit: 1 }), app.design, builder, Date.now());
    return (await run<{ id: number }>(this.database, compilePage(newest, app.design, app.schema)))[0]?.id ?? null;
  }
}

const countOf = (rows: readonly { readonly cells: readonly [string | null, string] }[], name: string | null): number =>
  Number(rows.find((row) => row.cells[0] === name)?.cells[1] ?? 0);

/** Whether some grant of a person hides the status: an empty one can then be one that they do not see. */
function withholds(app: OpenedApp, person: Person, route: Route): boolean {
  const sight = sightOf(app.design, person, route.table, 'see');
  return sight.kind === 'granted' && sight.grants.some((grant) => grant.withheld.has(route.field));
}
