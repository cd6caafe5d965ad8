import {
  wants,
  applyChanges,
  check,
  checkRecord,
  circumstancesOf,
  designMessage,
  evaluate,
  historyTable,
  isStored,
  parentOf,
  routeOf,
  tableOf,
  type AppDesign,
  type DesignChange,
  type Grant,
  type Move,
  type Person,
  type Route,
  type StoredField,
  type Value,
  type Write,
  type WrittenValue,
} from '@bibliona/core';
import fc from 'fast-check';
import pg from 'pg';
import type { DataSource } from 'typeorm';
import { afterAll, beforeAll, expect, test, vi } from 'vitest';
import { openDatabase } from '../../src/db/database.js';
import { Refusal } from '../../src/http/refusal.js';
import { HistoryReader } from '../../src/records/history.js';
import { save } from '../../src/records/save.js';
import { takeBack } from '../../src/records/take-back.js';
import { gardens, plant, source } from '../expressions/garden.js';
import { emptyDatabase, saveKey } from '../support.js';
import { formulas, roles } from './grants.js';
import { now, tables } from './oracle.js';

/**
 * Random grants over random data: every way of writing is done exactly when the grants, asked one by one of the records
 * in memory, let it; and what is refused leaves no trace.
 */
const seed = Number(process.env['EXPRESSION_SEED'] ?? 20_261_123);
const rounds = Number(process.env['ACCESS_ROUNDS'] ?? 12);

let url: string;
let drop: () => Promise<void>;
let client: pg.Client;
let database: DataSource;
beforeAll(async () => {
  ({ url, drop } = await emptyDatabase());
  database = await openDatabase({ url, connections: 3, statementTimeout: 0 });
  client = new pg.Client({ connectionString: url });
  await client.connect();
  vi.spyOn(Date, 'now').mockReturnValue(now);
});
afterAll(async () => {
  vi.restoreAllMocks();
  await client.end();
  await database.destroy();
  await drop();
});

type Row = Readonly<Record<string, Value>>;
type Rows = ReadonlyMap<string, readonly Row[]>;
type Action = 'see' | 'add' | 'change' | 'remove';

/** What the grants of a person say, asked in memory. */
class Oracle {
  private readonly mine: readonly Grant[];
  constructor(
    private readonly design: AppDesign,
    private readonly person: Person,
  ) {
    this.mine = design.roles.filter((role) => person.roles.includes(role.id)).flatMap((role) => role.grants);
  }

  /** The grants for an action that a record meets. */
  private met(rows: Rows, action: Action, table: string, id: number): readonly Grant[] {
    return this.mine.filter((grant) => {
      if (!this.holds(grant, table, action)) return false;
      return grant.condition === '' || this.meets(rows, table, id, grant.condition);
    });
  }
  private meets(rows: Rows, table: string, id: number, condition: string): boolean {
    const checked = check(condition, { design: this.design, table }, wants.anything);
    if (!checked.ok) throw new Error(condition);
    const records = source({ design: this.design, rows });
    return evaluate(checked.node, { ...circumstancesOf(this.design, this.person, now), records, self: { kind: 'record', table, id } }) === true;
  }
  private opens(grants: readonly Grant[], field: string): boolean {
    return grants.some((grant) => !grant.hidden.includes(field) && !grant.locked.includes(field));
  }
  private sees(rows: Rows, table: string, id: number): boolean {
    return this.met(rows, 'see', table, id).length > 0;
  }
  private refersToTheirs(rows: Rows, table: string, values: Row): boolean {
    return tableOf(this.design, table).fields.every((field) => {
      const value = values[field.id] ?? null;
      return field.kind !== 'reference' || value === null || this.sees(rows, parentOf(this.design, field).id, Number(value));
    });
  }

  mayAdd(before: Rows, after: Rows, table: string, id: number, values: Row): boolean {
    const met = this.met(after, 'add', table, id);
    return met.length > 0 && this.refersToTheirs(before, table, values) && Object.keys(values).every((field) => this.opens(met, field));
  }
  mayChange(before: Rows, after: Rows, table: string, id: number, values: Row): boolean {
    if (!this.sees(before, table, id) || !this.refersToTheirs(before, table, values)) return false;
    const met = this.met(before, 'change', table, id);
    return met.length > 0 && Object.keys(values).every((field) => this.opens(met, field)) && this.met(after, 'change', table, id).length > 0;
  }
  mayEver(action: Action, table: string): boolean {
    return this.mine.some((grant) => this.holds(grant, table, action));
  }
  isNeverHidden(table: string, field: string): boolean {
    const seen = this.mine.filter((grant) => this.holds(grant, table, 'see'));
    const shows = (grant: Grant): boolean => !grant.hidden.includes(field);
    return seen.some((grant) => grant.condition === '' && shows(grant)) || (seen.length > 0 && seen.every(shows));
  }
  private holds(grant: Grant, table: string, action: Action): boolean {
    return grant.table === table && grant[action] && !(grant.condition.includes('me.Home') && this.person.ties['tie_home'] === undefined);
  }

  mayMove(before: Rows, { table, field }: Route, move: Move, id: number): boolean {
    const status = before.get(table)?.[id - 1]?.[field] ?? 'low';
    const isNamed = move.roles.some((role) => this.person.roles.includes(role));
    return isNamed && status === move.from && this.sees(before, table, id) && (move.guard === '' || this.meets(before, table, id, move.guard));
  }
  mayRemove(before: Rows, table: string, id: number): boolean {
    return this.sees(before, table, id) && this.met(before, 'remove', table, id).length > 0;
  }
}

/** A route on hives: two can send them on, one of them back; the first move waits for its guard. */
const way = (guard: string): Route => ({
  id: 'way',
  name: 'Way',
  description: '',
  section: '',
  table: 'hives',
  field: 'h_choice',
  statuses: [
    { choice: 'low', kind: 'start' },
    { choice: 'full', kind: 'done' },
  ],
  moves: [
    { id: 'mo_half', name: 'Fill', from: 'low', to: 'half', roles: ['role_one', 'role_two'], guard, duty: 'should' },
    { id: 'mo_full', name: 'Fill up', from: 'half', to: 'full', roles: ['role_two', 'role_three'], guard: '', duty: 'should' },
    { id: 'mo_back', name: 'Empty', from: 'half', to: 'low', roles: ['role_three'], guard: '', duty: 'should' },
  ],
});

const withRow = (rows: Rows, table: string, id: number, values: Row): Rows =>
  new Map(
    [...rows].map(([name, list]) => [
      name,
      name !== table ? list : id > list.length ? [...list, values] : list.map((row, i) => (i === id - 1 ? { ...row, ...values } : row)),
    ]),
  );

test(`nobody writes what is not theirs to write: ${rounds} sets of grants, seed ${seed}`, { timeout: 600_000 }, async () => {
  const counts = { done: 0, refused: 0, moved: 0, twice: 0 };
  for (let n = 0; n < rounds; n += 1) {
    const [garden] = fc.sample(gardens(), { numRuns: 1, seed: seed + n });
    if (garden === undefined) throw new Error('No garden');
    const worked = applyChanges(garden.design, formulas(garden.design));
    if (!worked.ok) throw new Error(worked.issues.map(designMessage).join(' '));
    const [made] = fc.sample(roles(worked.design, true), { numRuns: 1, seed: seed + n });
    const guards = (made ?? [])
      .flatMap((role) => role.grants)
      .filter((grant) => grant.table === 'hives' && grant.condition !== '' && !grant.condition.includes('me.Home'));
    const applied = applyChanges(worked.design, [
      { kind: 'put', part: 'tie', value: { id: 'tie_home', name: 'Home', table: 'apiaries' } },
      ...(made ?? []).map((role): DesignChange => ({ kind: 'put', part: 'role', value: role })),
      { kind: 'put', part: 'route', value: way(guards[0]?.condition ?? '') },
    ]);
    // Too large a condition, or a constant that is none: the next one.
    if (!applied.ok) continue;
    const { design } = applied;
    const schema = `write_${n}`;
    await plant(client, schema, garden);
    for (const text of historyTable(schema)) await client.query(text);
    const app = { id: 'garden', schema, version: 1, design };
    const standing = async (table: string): Promise<string> =>
      JSON.stringify((await client.query(`SELECT * FROM ${schema}."${tableOf(design, table).slug}" ORDER BY id`)).rows);
    const fits = (table: string, values: Row): boolean => checkRecord(tableOf(design, table), values, false).length === 0;
    let rows: Rows = garden.rows;
    const removed = new Set<number>();
    for (let p = 0; p < 3; p += 1) {
      const person: Person = {
        id: p + 1,
        name: 'Ada Wren',
        mail: 'ada@quillmoor.example',
        role: 'member',
        roles: design.roles.map((role) => role.id).filter((id, i) => id !== 'team' && (p + n) % (i + 2) !== 0),
        ties: p % 2 === 0 ? {} : { tie_home: 1 + (n % 3) },
      };
      const oracle = new Oracle(design, person);
      const byThem: number[] = [];
      const expectDone = async (what: string, table: string, isTheirs: () => boolean, ask: () => Promise<unknown>): Promise<boolean> => {
        let expected: boolean;
        try {
          expected = isTheirs();
        } catch (error) {
          if ((error as Error).name === 'TooMuch') return false;
          throw error;
        }
        const before = await standing(table);
        const done = await ask().then(
          () => true,
          (error: unknown) => {
            if (error instanceof Refusal) return false;
            throw error;
          },
        );
        expect(done, `${what} by ${person.roles.join(', ')} of set ${n}`).toBe(expected);
        if (!done) expect(await standing(table)).toBe(before);
        counts[done ? 'done' : 'refused'] += 1;
        return done;
      };
      const attempt = async (write: Write, isTheirs: () => boolean, key = saveKey()): Promise<boolean> => {
        // What does not fit its field is refused, no matter who writes it.
        if ((write.kind === 'add' || write.kind === 'change') && checkRecord(tableOf(design, write.table), write.values, write.kind === 'add').length > 0)
          return false;
        return expectDone(JSON.stringify(write), write.table, isTheirs, () => save(database, app, person, key, [write]));
      };
      /** Undoes a save: nobody but who saved it, and they as far as the opposite is theirs to do. */
      const attemptBack = async (key: string, table: string, isTheirs: () => boolean): Promise<boolean> => {
        const by = (who: Person) => takeBack(database, app, who, key, { key: saveKey(), dry: false });
        await expect(by({ ...person, id: 99 })).rejects.toThrow('nothing here that you can undo');
        return expectDone('Taking back', table, isTheirs, () => by(person));
      };
      for (const table of tables) {
        const list = rows.get(table) ?? [];
        const route = routeOf(design, table);
        const fields = tableOf(design, table).fields.filter((field): field is StoredField => isStored(field) && field.id !== route?.field);
        const pick = <T>(of: readonly T[], turn: number): T | undefined => of[(turn * 7 + n + p) % of.length];
        const valueFor = (field: StoredField, turn: number): Value => {
          const value = turn % 4 === 3 && !field.required ? null : (pick(list, turn)?.[field.id] ?? null);
          return typeof value === 'string' && value.trim() === '' ? null : value;
        };
        for (let turn = 0; turn < 8; turn += 1) {
          const field = pick(fields, turn);
          if (field === undefined) continue;
          const id = 1 + ((turn * 5 + p) % list.length);
          const gone = table === 'visits' && removed.has(id);
          const values: Row = { [field.id]: valueFor(field, turn) };
          const revOf = async (record: number): Promise<number> =>
            (await client.query<{ rev: number }>(`SELECT rev FROM ${schema}."${tableOf(design, table).slug}" WHERE id = ${record}`)).rows[0]?.rev ?? 0;
          const rev = (await revOf(id)) || 1;
          const after = withRow(rows, table, id, values);
          const change: Write = { kind: 'change', table, id, rev, values: values as Record<string, WrittenValue> };
          const changing = saveKey();
          let written = 0;
          if (await attempt(change, () => !gone && oracle.mayChange(rows, after, table, id, values), changing)) {
            const old: Row = { [field.id]: rows.get(table)?.[id - 1]?.[field.id] ?? null };
            const isBack = turn % 2 === 0 && (await attemptBack(changing, table, () => fits(table, old) && oracle.mayChange(after, rows, table, id, old)));
            written = isBack ? 2 : 1;
            if (!isBack) rows = after;
          }

          const whole: Row = Object.fromEntries(
            fields.filter((each, i) => each.required || (i + turn) % 3 > 0).map((each) => [each.id, valueFor(each, turn + 1)]),
          );
          const fresh = list.length + 1;
          const grown = withRow(rows, table, fresh, route === undefined ? whole : { ...whole, [route.field]: 'low' });
          const add: Write = { kind: 'add', table, as: 'new', values: whole as Record<string, WrittenValue> };
          const adding = saveKey();
          if (
            (await attempt(add, () => oracle.mayAdd(rows, grown, table, fresh, whole), adding)) &&
            !(await attemptBack(adding, table, () => oracle.mayRemove(grown, table, fresh)))
          )
            // The next record stands where this one stood, so that its number is known.
            await client.query(`DELETE FROM ${schema}."${tableOf(design, table).slug}" WHERE id > ${list.length}`);
          const move = route?.moves[turn % 3];
          if (route !== undefined && move !== undefined) {
            const at = { table, id, rev: rev + written };
            await attempt({ kind: 'change', ...at, values: { [route.field]: move.to } }, () => false);
            const moving = saveKey();
            if (await attempt({ kind: 'move', ...at, move: move.id }, () => oracle.mayMove(rows, route, move, id), moving)) {
              rows = withRow(rows, table, id, { [route.field]: move.to });
              await attemptBack(moving, table, () => false);
              counts.moved += 1;
            }
          }
          const second = pick(fields, turn + 1);
          const again = { rev: await revOf(id), values: second === undefined ? {} : ({ [second.id]: valueFor(second, turn + 2) } as Row) };
          // Two writes to one record in one save are as allowed as one after the other.
          if (!gone && again.rev > 0 && fits(table, values) && fits(table, again.values)) {
            const middle = withRow(rows, table, id, values);
            const end = withRow(middle, table, id, again.values);
            const both: Write[] = [
              { kind: 'change', table, id, rev: again.rev, values: values as Record<string, WrittenValue> },
              { kind: 'change', table, id, rev: again.rev + 1, values: again.values as Record<string, WrittenValue> },
            ];
            const isAllowed = (): boolean => oracle.mayChange(rows, middle, table, id, values) && oracle.mayChange(middle, end, table, id, again.values);
            if (await expectDone(JSON.stringify(both), table, isAllowed, () => save(database, app, person, saveKey(), both))) {
              rows = end;
              counts.twice += 1;
            }
            const next = route?.moves[(turn + 1) % 3];
            if (route !== undefined && move !== undefined && next !== undefined) {
              const moved = withRow(rows, table, id, { [route.field]: move.to });
              const at = await revOf(id);
              const moves: Write[] = [
                { kind: 'move', table, id, rev: at, move: move.id },
                { kind: 'move', table, id, rev: at + 1, move: next.id },
              ];
              const isOpen = (): boolean => oracle.mayMove(rows, route, move, id) && oracle.mayMove(moved, route, next, id);
              if (await expectDone(JSON.stringify(moves), table, isOpen, () => save(database, app, person, saveKey(), moves)))
                rows = withRow(rows, table, id, { [route.field]: next.to });
            }
          }
          if (table !== 'visits' || turn < 5 || gone) continue;
          const removing = saveKey();
          if (!(await attempt({ kind: 'remove', table, id, rev: await revOf(id) }, () => oracle.mayRemove(rows, table, id), removing))) continue;
          // A person who can remove it can restore it.
          if (turn === 5) await attemptBack(removing, table, () => fits(table, rows.get(table)?.[id - 1] ?? {}));
          else {
            removed.add(id);
            byThem.push(id);
            rows = withRow(rows, table, id, Object.fromEntries(fields.map((each) => [each.id, null])));
          }
        }
      }
      // Of what was removed each is shown what they removed themselves, and of it no field that might have been hidden from them.
      const shown = await new HistoryReader(database, app, person).removed('visits').catch((error: unknown) => {
        if (error instanceof Refusal) return null;
        throw error;
      });
      expect(shown === null).toBe(!oracle.mayEver('remove', 'visits'));
      if (shown === null) continue;
      // Beyond those that were planted stand the records that were added here and undone.
      const planted = shown.removed.map((each) => each.id).filter((id) => id <= (garden.rows.get('visits') ?? []).length);
      expect(planted.sort()).toEqual(byThem.sort());
      for (const { values } of shown.removed) for (const id of Object.keys(values)) expect(oracle.isNeverHidden('visits', id)).toBe(true);
    }
    await client.query(`DROP SCHEMA ${schema} CASCADE`);
  }
  // Grants that let everything or nothing be written would prove little.
  expect(counts.done).toBeGreaterThan(rounds * 8);
  expect(counts.refused).toBeGreaterThan(rounds * 20);
  expect(counts.moved).toBeGreaterThan(rounds / 4);
  expect(counts.twice).toBeGreaterThan(rounds / 2);
});
