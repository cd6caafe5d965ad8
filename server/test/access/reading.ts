/** What the access matrix asks: each way of reading, and what it has to give. */
import { isDeepStrictEqual } from 'node:util';
import {
  kindOf,
  asBuilder,
  askedByLetter,
  check,
  circumstancesOf,
  compileComputed,
  compileCount,
  compileLedger,
  compileLookup,
  compileMeeting,
  compilePage,
  compilePlace,
  canGroupBy,
  compilePickable,
  compileResultGroups,
  type ResultGroup,
  shownType,
  compileResult,
  compileStatistics,
  compileTotals,
  compileValues,
  designFor,
  evaluate,
  everything,
  everyRow,
  expressionsOf,
  isStored,
  letterOf,
  parentOf,
  partSeen,
  queryOf,
  readQuery,
  restrict,
  restrictForExport,
  restrictForMail,
  shown,
  standardLocale,
  tableOf,
  wants,
  withheldExpression,
  type AppDesign,
  type AskedQuery,
  type Condition,
  type Feel,
  type Field,
  type Person,
  type PickableValue,
  type SavedQuery,
  type Value,
} from '@bibliona/core';
import { expect } from 'vitest';
import { zone } from '../expressions/garden.js';
import type { statementDatabase } from '../support.js';
import { now, type Seen } from './oracle.js';

export const secret = 'hidden formula';

/** How often queries were made of everything, of a part or of nothing. */
export const counts = { all: 0, part: 0, none: 0 };

const textOf = (value: Feel): string | boolean | null => {
  const out = shown(value, zone);
  return out === null ? null : typeof out === 'boolean' ? out : String(out);
};

const plainNumber = (text: string): string => (text.includes('.') ? text.replace(/\.?0+$/u, '') : text);
/** Numbers as this test writes them: the driver gives bigint as text. */
const numbered = (field: Field | undefined, value: unknown): unknown =>
  (field?.kind === 'whole' || field?.kind === 'duration') && value !== null ? Number(value) : value;

/** Every way of reading, as one person, held against what is theirs to see. */
export class Reading {
  private readonly around;
  constructor(
    private readonly database: Pick<Awaited<ReturnType<typeof statementDatabase>>, 'run'>,
    private readonly design: AppDesign,
    private readonly schema: string,
    private readonly person: Person,
    private readonly seen: Seen,
  ) {
    this.around = circumstancesOf(design, person, now);
  }

  private from(table: string, more: object = {}) {
    return [restrict(queryOf(table, { limit: 1000, ...more }), this.design, this.person, now), this.design, this.schema] as const;
  }
  private visible(table: string): number[] {
    return (this.seen.rows.get(table) ?? []).flatMap((row, i) => (row === null ? [] : [i + 1]));
  }
  private value(expression: string, table: string, id: number): Feel {
    const checked = check(expression, { design: this.design, table }, wants.anything);
    if (!checked.ok) throw new Error(`${expression}: ${checked.problems[0]?.message ?? ''}`);
    return evaluate(checked.node, { ...this.around, records: this.seen.source, self: { kind: 'record', table, id } });
  }
  private caption(table: string, id: number): string {
    const { caption } = tableOf(this.design, table);
    const said = caption === '' ? '' : (textOf(this.value(caption, table, id)) ?? '');
    return said === '' ? `No. ${id}` : String(said);
  }
  /** A field as a list shows it. */
  private cell(table: string, id: number, field: Field): unknown {
    if (field.kind === 'formula') return this.seen.withheld(table, id, field.id) ? null : textOf(this.value(field.expression, table, id));
    const value = this.seen.rows.get(table)?.[id - 1]?.[field.id] ?? null;
    if (field.kind === 'reference' && value !== null) return { id: Number(value), caption: this.caption(parentOf(this.design, field).id, Number(value)) };
    return this.plain(field, value);
  }

  async lists(table: string): Promise<void> {
    const { fields } = tableOf(this.design, table);
    const columns = fields.map((field) => field.id);
    const wanted = this.visible(table).map((id) => ({ id, cells: fields.map((field) => this.cell(table, id, field)) }));
    for (const sort of [null, ...fields.map((field) => ({ field: field.id, direction: 'up' as const }))]) {
      const rows = await this.database.run<Record<string, unknown>>(compilePage(...this.from(table, { columns, sort })));
      const got = rows.map((row) => ({
        id: Number(row['id']),
        cells: columns.map((id) =>
          numbered(
            fields.find((field) => field.id === id),
            row[id],
          ),
        ),
      }));
      // A place in the list counts the records before it: those that can be seen.
      const [place] = await this.database.run<{ id: number; __count: number }>(compilePlace(...this.from(table, { columns: [], sort })));
      expect([place?.__count ?? 0, place === undefined ? undefined : Number(place.id)]).toEqual([wanted.length, got.at(-1)?.id]);
      expect(got.sort((a, b) => a.id - b.id)).toEqual(wanted);
    }
    const [counted] = await this.database.run<{ count: number }>(compileCount(this.from(table), null));
    expect(counted?.count).toBe(wanted.length);
  }

  /** What leaves as a file: no record and no cell but those that a grant lets see and export. */
  async exported(table: string, exportable: Seen): Promise<void> {
    const fields = tableOf(this.design, table).fields.filter((field) => isStored(field) && field.kind !== 'reference');
    const query = queryOf(table, { limit: 1000, columns: fields.map((field) => field.id) });
    const rows = await this.database.run<Record<string, unknown>>(
      compilePage(restrictForExport(query, this.design, this.person, now), this.design, this.schema),
    );
    const wanted = (exportable.rows.get(table) ?? []).flatMap((row, i) =>
      row === null ? [] : [[i + 1, ...fields.map((field) => this.plain(field, row[field.id] ?? null))]],
    );
    expect(rows.map((row) => [Number(row['id']), ...fields.map((field) => numbered(field, row[field.id]))])).toEqual(wanted);
  }
  private plain(field: Field, value: Value): unknown {
    return field.kind === 'decimal' && value !== null ? plainNumber(String(value)) : value;
  }

  async lookup(table: string): Promise<void> {
    const rows = await this.database.run<{ id: string; caption: string }>(compileLookup(this.from(table), ''));
    expect(rows.map((row) => [Number(row.id), row.caption]).sort()).toEqual(
      this.visible(table)
        .map((id) => [id, this.caption(table, id)])
        .sort(),
    );
  }

  /** Each value that stands somewhere in the data finds those alone who show it. */
  async search(table: string, words: readonly string[]): Promise<void> {
    const { fields } = tableOf(this.design, table);
    for (const word of words) {
      const rows = await this.database.run<{ id: string }>(compilePage(...this.from(table, { where: { kind: 'search', text: word } })));
      const holds = (of: string, id: number): boolean =>
        tableOf(this.design, of).fields.some((field) => {
          const value = this.seen.rows.get(of)?.[id - 1]?.[field.id];
          const { traits, value: how } = kindOf(field);
          return traits.searched && typeof value === 'string' && String(how.exported(value, field)).toLowerCase().includes(word.toLowerCase());
        });
      for (const { id } of rows) {
        const own = this.seen.rows.get(table)?.[Number(id) - 1];
        expect(own, `record ${id} of ${table} found by ${word}`).not.toBeNull();
        const parents = fields.filter((field) => field.kind === 'reference' && (own?.[field.id] ?? null) !== null);
        const isShown =
          holds(table, Number(id)) || String(id) === word || parents.some((field) => holds(parentOf(this.design, field).id, Number(own?.[field.id])));
        expect(isShown, `record ${id} of ${table} found by ${word}`).toBe(true);
      }
    }
  }

  async statistics(table: string): Promise<void> {
    for (const field of tableOf(this.design, table).fields) {
      const ids = this.visible(table);
      const filled = ids.map((id) => this.cell(table, id, field)).filter((value) => value !== null);
      const [row] = await this.database.run<{ rows: number; filled: number; distinct_values: number }>(compileStatistics(this.from(table), field.id, 4, null));
      expect([row?.rows, row?.filled]).toEqual([ids.length, filled.length]);
      if (field.kind === 'reference' || field.kind === 'formula') continue;
      const values = await this.database.run<{ value: string }>(compileValues(this.from(table), field.id));
      expect(values).toHaveLength(filled.length);
    }
  }

  /** What their browser is told of the design: only what a grant of theirs reaches, and every expression in it can be read there. */
  browser(): void {
    const told = designFor(this.design, this.person);
    const text = JSON.stringify(told);
    const mine = this.design.roles
      .filter((role) => this.person.roles.includes(role.id))
      .flatMap((role) => role.grants)
      .filter((grant) => !(grant.condition.includes('me.Home') && this.person.ties['tie_home'] === undefined));
    for (const table of this.design.tables)
      for (const field of table.fields) {
        const isReached = mine.some((grant) => grant.table === table.id && grant.see && !grant.hidden.includes(field.id));
        const isTold = told.tables.some((item) => item.fields.some((each) => each.id === field.id));
        if (mine.some((grant) => grant.table === table.id && grant.see)) expect([field.id, isTold]).toEqual([field.id, isReached]);
        if (!isReached) expect(text).not.toContain(`"${field.id}"`);
      }
    expect(told.roles.map((role) => role.id).sort()).toEqual([...this.person.roles].sort());
    expect(told.roles.flatMap((role) => role.grants)).toEqual([]);
    for (const place of expressionsOf(told))
      expect([place.label, place.text === withheldExpression || check(place.text, { design: told, table: place.table }, wants.anything).ok]).toEqual([
        place.label,
        true,
      ]);
  }

  async query(saved: SavedQuery): Promise<void> {
    const read = readQuery(saved, this.design);
    if (!read.ok) return;
    const from = [restrict(read.asked, this.design, this.person, now), this.design, this.schema] as const;
    const rows = await this.database.run<{ id: string | null; cells: unknown[] }>(compileResult(from, { limit: 1000 }));
    const kept = this.visible(saved.table).filter((id) => saved.condition === '' || this.value(saved.condition, saved.table, id) === true);
    const counted = saved.columns.some((column) => column.summary !== null);
    const cell = (expression: string, id: number): unknown => textOf(this.value(expression, saved.table, id));
    const keys = kept.map((id) => JSON.stringify(saved.columns.filter((column) => column.summary === null).map((column) => cell(column.expression, id))));
    const wanted = counted
      ? [...new Set(keys)].map((key) => [...(JSON.parse(key) as unknown[]), String(keys.filter((each) => each === key).length)])
      : kept.map((id) => saved.columns.map((column) => cell(column.expression, id)));
    const sorted = (list: readonly (readonly unknown[])[]): string[] => list.map((each) => JSON.stringify(each)).sort();
    expect(sorted(rows.map((row) => row.cells)), JSON.stringify(saved)).toEqual(sorted(wanted));
    // What is said to be made of everything is what a builder gets; of nothing there is nothing.
    const part = partSeen(this.design, this.person, saved.table, [...read.asked.steps, ...read.asked.columns.flatMap((column) => column.node ?? [])]);
    if (part === 'none') expect(rows).toEqual([]);
    if (part === 'all') {
      const whole = [restrict(read.asked, this.design, asBuilder(this.person), now), this.design, this.schema] as const;
      // Roles are part of who asks, and a builder has others.
      if (!JSON.stringify(saved).includes('me.'))
        expect(sorted((await this.database.run<{ cells: unknown[] }>(compileResult(whole, { limit: 1000 }))).map((row) => row.cells))).toEqual(sorted(wanted));
    }
    counts[part] += 1;
    // As a report and a tile read it: in another order, counted by itself, and point by point the records behind it.
    const [first] = saved.columns;
    const turned = await this.database.run<{ cells: unknown[] }>(
      compileResult(from, { limit: 1000, arranged: [{ column: first?.id ?? '', direction: 'down' }] }),
    );
    expect(sorted(turned.map((row) => row.cells))).toEqual(sorted(wanted));
    const [totals] = await this.database.run<{ count: number; totals: (string | null)[] }>(
      compileTotals(from, [{ column: first?.id ?? '', summary: 'count' }]),
    );
    expect(totals).toEqual({ count: wanted.length, totals: [String(wanted.filter((each) => each[0] !== null).length)] });
    // The values by which it can be picked are those of these rows, and of no others.
    const offered = await this.database.run<PickableValue>(compilePickable(from, everyRow));
    for (const { column, value, count } of offered) {
      const at = saved.columns.findIndex((each) => each.id === column);
      if (count !== null) expect([column, value, count]).toEqual([column, value, wanted.filter((row) => isDeepStrictEqual(row[at], value)).length]);
    }
    const groupable = saved.columns.flatMap(({ id }, i) => (canGroupBy(shownType(read.asked.columns[i] as never).kind) ? [{ id, i }] : [])).slice(0, 2);
    const groups = await this.database.run<ResultGroup>(
      compileResultGroups(
        from,
        groupable.map(({ id }) => id),
        [],
        everyRow,
        1000,
      ),
    );
    for (const { values, count } of groups)
      expect([values, count]).toEqual([
        values,
        wanted.filter((row) => values.every((value, place) => isDeepStrictEqual(row[groupable[place]?.i ?? 0], value))).length,
      ]);
    for (const depth of [0, 1, 2])
      if (depth <= groupable.length) expect(groups.filter((group) => group.depth === depth).reduce((sum, group) => sum + group.count, 0)).toBe(wanted.length);
    await this.behind(saved, read.asked, kept);
    const [ledger] = await this.database.run<{ counts: number[] }>(compileLedger(...from));
    expect(ledger?.counts[0]).toBe(this.visible(saved.table).length);
    expect(ledger?.counts[read.asked.steps.length]).toBe(kept.length);
  }

  /** The records behind each value of the first column are those that give it, and together they are all. */
  private async behind(saved: SavedQuery, asked: AskedQuery, kept: readonly number[]): Promise<void> {
    const [first] = saved.columns;
    const node = asked.columns[0]?.node ?? null;
    if (first === undefined || node === null) return;
    const values = new Map(kept.map((id) => [id, textOf(this.value(first.expression, saved.table, id))]));
    for (const value of new Set(values.values())) {
      const where: Condition = { kind: 'all', of: [asked.where, { kind: 'gives', node, value }] };
      const source = [
        restrict({ ...asked, where, columns: [{ id: 'c_one', node, summary: null }] }, this.design, this.person, now),
        this.design,
        this.schema,
      ] as const;
      const rows = await this.database.run<{ id: string }>(compileResult(source, { limit: 1000 }));
      expect(rows.map((row) => Number(row.id)).sort(), `behind ${String(value)} of ${first.expression}`).toEqual(
        kept.filter((id) => values.get(id) === value).sort(),
      );
    }
  }

  /** What a mail about a record says to this person; nothing at all when they can't see it. */
  async letters(table: string, expression: string): Promise<void> {
    if (!check(expression, { design: this.design, table }, wants.shown).ok) return;
    const step = {
      kind: 'mail',
      id: 'st_any',
      to: { kind: 'address', expression: 'me.Mail' },
      subject: `{${expression}}`,
      body: `Of {${expression}}.`,
    } as const;
    const automation = {
      id: 'au_any',
      name: 'Any',
      description: '',
      section: '',
      isOn: true,
      table,
      on: 'added',
      fields: [],
      moves: [],
      condition: '',
      steps: [step],
    } as const;
    const visible = new Set(this.visible(table));
    for (const [i] of (this.seen.rows.get(table) ?? []).entries()) {
      const asked = restrictForMail(askedByLetter(automation, step, i + 1, this.design), this.design, this.person, this.person, now);
      const rows = await this.database.run<{ cells: Value[] }>(compileResult([asked, this.design, this.schema], { limit: 1 }));
      expect(rows.length > 0, `a mail about ${table} ${i + 1}`).toBe(visible.has(i + 1));
      if (rows[0] === undefined) continue;
      const said = textOf(this.value(expression, table, i + 1));
      expect(rows[0].cells, `“${expression}” in a mail about ${table} ${i + 1}`).toEqual([said, said]);
      expect(letterOf(automation, step, rows[0].cells, this.design, standardLocale()).body).toMatch(/^Of .*\.$/su);
    }
  }

  /** What an expression gives, as the proof shows it. */
  async computed(table: string, expression: string): Promise<void> {
    const checked = check(expression, { design: this.design, table }, wants.anything);
    if (!checked.ok) return;
    const rows = await this.database.run<{ id: string; caption: string; value: string | null }>(compileComputed(this.from(table), checked.node));
    const wanted = this.visible(table).map((id) => {
      const value = textOf(this.value(expression, table, id));
      return [id, this.caption(table, id), value === null ? null : String(value)];
    });
    expect(rows.map((row) => [Number(row.id), row.caption, row.value])).toEqual(wanted);
    if (checked.node.type.kind !== 'boolean') return;
    const met = await this.database.run<{ id: string; met: number[] }>(compileMeeting(this.from(table, { where: everything }), [checked.node]));
    expect(
      met
        .filter((each) => each.met.length > 0)
        .map((each) => Number(each.id))
        .sort(),
    ).toEqual(
      wanted
        .filter((each) => each[2] === 'true')
        .map((each) => each[0])
        .sort(),
    );
  }
}
