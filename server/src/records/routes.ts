import { lookUpPeople } from './people.js';
import { compileRepeats, contract, knownTable, repeatsOf, tablesTouched } from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { run } from '../db/run.js';
import { Refusal } from '../http/refusal.js';
import { forMember, type OpenedApp, type Served } from '../http/serve.js';
import { tabHeader, type Live } from '../live/live.js';
import type { Members } from '../people/members.js';
import { readGroups, readQuickFilters } from './groups.js';
import { HistoryReader } from './history.js';
import { RecordReader } from './read.js';
import { save } from './save.js';
import { searchRecords } from './search.js';
import { takeBack } from './take-back.js';
import type { Person } from '@bibliona/core';

// Counting further makes a list wait; the exact count is asked for after the page is there.
const countedTo = 10_000;
// What the proof of a condition counts, while it is written.
const triedTo = 100_000;

/** @param heavy for what asks more than a page of records does */
export function recordRoutes(database: DataSource, heavy: DataSource, members: Members, live: Live): readonly Served[] {
  const reader = (who: { readonly app: OpenedApp; readonly person: Person }): RecordReader => new RecordReader(database, who.app, who.person);
  const heavyReader = (who: { readonly app: OpenedApp; readonly person: Person }): RecordReader => new RecordReader(heavy, who.app, who.person);
  const history = (who: { readonly app: OpenedApp; readonly person: Person }): HistoryReader => new HistoryReader(database, who.app, who.person);
  return [
    forMember(contract.readPage, ({ params, query }, who) => reader(who).page(params.table, query, query.after ?? null, query.limit)),
    forMember(contract.readPlace, ({ params, query }, who) => reader(who).place(params.table, query, query.after ?? null, query.skip)),
    forMember(contract.countPage, async ({ params, query }, who) => {
      const count = await reader(who).count(params.table, query, query.exact === 'yes' ? null : countedTo + 1);
      return query.exact === 'no' && count > countedTo ? { count: countedTo, atLeast: true } : { count, atLeast: false };
    }),
    forMember(contract.readRecord, ({ params, query }, who) => reader(who).open(params.table, params.id, query)),
    forMember(contract.readGroups, ({ params, query }, who) => readGroups(heavy, who, heavyReader(who), params.table, query)),
    forMember(contract.readQuickFilters, ({ params, query }, who) => readQuickFilters(heavy, who, heavyReader(who), params.table, query)),
    forMember(contract.readLast, async ({ params }, who) => ({ values: await reader(who).lastEntered(params.table) })),
    forMember(contract.readNeighbours, ({ params, query }, who) => reader(who).neighbours(params.table, params.id, query)),
    forMember(contract.readHistory, ({ params }, who) => history(who).of(params.table, params.id)),
    forMember(contract.readRemoved, ({ params }, who) => history(who).removed(params.table)),
    forMember(contract.lookUp, async ({ params, query }, who) => ({ records: [...(await reader(who).lookUp(params.table, query.text))] })),
    forMember(contract.readNearest, async ({ params, query: { latitude, longitude } }, who) => {
      const point = latitude === undefined || longitude === undefined ? null : { latitude, longitude };
      return { records: [...(await heavyReader(who).nearest(params.table, params.field, point))] };
    }),
    forMember(contract.lookUpPeople, async ({ query }, { app, person }) => ({ people: [...(await lookUpPeople(database, app, person, query.text))] })),
    forMember(contract.tryExpression, async ({ params, body }, who) => {
      const of = body.person === undefined ? who.person : await members.person(who.app, body.person);
      return heavyReader(who).tried(params.table, body.expression, triedTo, of);
    }),
    forMember(contract.readStatistics, ({ params }, who) => heavyReader(who).statistics(params.table)),
    forMember(contract.readRepeats, async ({ params }, { app }) => {
      const table = knownTable(app.design, params.table);
      if (table === undefined) throw new Refusal('not_found', "This table doesn't exist.");
      const rows = (await run<{ cells: readonly string[] }>(heavy, compileRepeats(app.design, table, app.schema))).map((row) => row.cells);
      return { looked: rows.length, repeats: [...repeatsOf(app.design, table, rows)] };
    }),
    forMember(contract.readFrequent, ({ params }, who) => heavyReader(who).frequent(params.table, params.field)),
    forMember(contract.searchRecords, ({ query }, { app, person }) => searchRecords(heavy, app, person, query.text, query.from)),
    forMember(contract.takeBackSave, async ({ params, body, context }, { app, person }) => {
      const answer = await takeBack(database, app, person, params.save, body);
      live.touched(app.id, null, { tab: context.get(tabHeader), own: [] });
      return answer;
    }),
    forMember(contract.saveRecords, async ({ body, context }, { app, person }) => {
      const answer = await save(database, app, person, body.key, body.writes);
      const own = body.writes.map((write) => write.table);
      live.touched(app.id, tablesTouched(app.design, body.writes), { tab: context.get(tabHeader), own });
      return answer;
    }),
  ];
}
