/** Reading records: each handler is a query, restricted to its person, compiled and run. */
import {
  check,
  childrenOf,
  compileComputed,
  compileCount,
  compileCaptions,
  compileLookup,
  compileMeeting,
  compileNearest,
  compilePage,
  compilePlace,
  compileFrequent,
  compileStatistics,
  designFor,
  everything,
  fieldOf,
  kindOf,
  linksOf,
  listFor,
  namedForm,
  namedList,
  NotInList,
  picked,
  plainList,
  parseDate,
  queryOf,
  restrict,
  restrictForRules,
  tableOf,
  typeOfField,
  wantedColumn,
  wants,
  type Condition,
  type contract,
  type AppDesign,
  type Cursor,
  type Field,
  type FieldStatistics,
  type List,
  type RowTone,
  type OpenRecord,
  type Person,
  type Point,
  type Query,
  type RecordAnswer,
  type Selection,
  type Statement,
  type Table,
} from '@bibliona/core';
import type { z } from 'zod';
import { run, type Runner } from '../db/run.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { mayDo } from './may.js';
import { namesOf } from './pairs.js';

export interface PlaceRow {
  readonly id: number;
  readonly __key: Cursor['value'];
  /** Where there are several orders: what further ones go by. */
  readonly __then?: Cursor['then'];
}
interface PageRow extends PlaceRow {
  readonly rev: number;
  readonly [field: string]: unknown;
}
/** The place in an order at which a row is. */
export const placeOf = ({ id, __key: value, __then: then }: PlaceRow): Cursor => ({ value, ...(then === undefined ? {} : { then }), id });

/** What is asked of a table for a list. */
export type Picking = Pick<Query, 'where' | 'sort' | 'then'>;

type TriedExpression = z.output<typeof contract.tryExpression.answer>;

const triedShown = 5;
const mostChildren = 2000;
const mostNear = 200;
// Of what belongs to a record by a link, a list tells so many names.
const mostNamed = 20;
// Up to here every record is read for the statistics; beyond it a part of the pages that holds about as many.
const statisticsRead = 200_000;
// Choices beyond so many do not help a person to choose.
const mostFrequent = 100;
const bins = 16;

// Of longer texts only this much is shown in lists and rows: a page of them would fill the memory of server and browser.
const longestShown = 1000;

function recordOf(row: PageRow, columns: readonly string[], isWhole: boolean): RecordAnswer {
  const values: Record<string, RecordAnswer['values'][string]> = {};
  const cut: string[] = [];
  for (const id of columns) {
    const value = (row[id] ?? null) as RecordAnswer['values'][string];
    const isCut = !isWhole && typeof value === 'string' && value.length > longestShown;
    values[id] = isCut ? `${value.slice(0, longestShown)}…` : value;
    if (isCut) cut.push(id);
  }
  return { id: row.id, rev: row.rev, values, ...(cut.length === 0 ? {} : { cut }) };
}

export class RecordReader {
  constructor(
    private readonly runner: Runner,
    private readonly app: OpenedApp,
    private readonly person: Person,
  ) {}

  /** @throws Refusal not_found */
  table(id: string): Table {
    const table = this.app.design.tables.find((each) => each.id === id);
    if (table === undefined) throw new Refusal('not_found', 'This table no longer exists in the app.');
    return table;
  }

  /** The fields of a table of which this person is told; of all others not even that they are there. */
  private fieldsOf(table: Table): readonly string[] {
    return (designFor(this.app.design, this.person).tables.find((each) => each.id === table.id)?.fields ?? []).map((field) => field.id);
  }

  isTold = (table: string, field: string): boolean => this.fieldsOf(this.table(table)).includes(field);

  private source(query: Query) {
    return [restrict(query, this.app.design, this.person, Date.now()), this.app.design, this.app.schema] as const;
  }
  private rows<Row extends object>(statement: Statement): Promise<readonly Row[]> {
    return run<Row>(this.runner, statement);
  }

  /** The list of a table that a selection names, with the conditions that the person's browser is not told of. */
  list(table: Table, selection: Pick<Selection, 'list'>): List {
    const theirs = designFor(this.app.design, this.person);
    // Who can't reach the table sees nothing in it, and nothing of how it is listed.
    if (!theirs.tables.some((each) => each.id === table.id)) return { ...listFor(this.app.design, table.id), ...plainList };
    const told = namedList(theirs, table.id, selection.list, this.person.roles);
    const whole = this.app.design.lists.find((list) => list.id === told.id);
    return whole === undefined ? told : { ...told, condition: whole.condition, tones: whole.tones };
  }

  /**
   * What a list shows of a table: its condition, the search, what narrows it, and the order.
   * @param only of the records that it shows these; absent: all
   * @throws Refusal bad_request
   */
  selected(table: Table, selection: Selection, only?: readonly number[]): Picking {
    try {
      const all = picked(this.app.design, this.list(table, selection), selection);
      return only === undefined ? all : { ...all, where: { kind: 'all', of: [all.where, { kind: 'ids', ids: only }] } };
    } catch (error) {
      if (error instanceof NotInList) throw new Refusal('bad_request', 'This list has no such field to sort or narrow by.');
      throw error;
    }
  }

  async page(tableId: string, selection: Selection, after: Cursor | null, limit: number): Promise<{ records: RecordAnswer[]; next: Cursor | null }> {
    const table = this.table(tableId);
    const columns = this.fieldsOf(table);
    const selected = this.selected(table, selection);
    this.checkPlace(table, selected, after);
    const rows = await this.rows<PageRow>(
      compilePage(...this.source(queryOf(table.id, { ...selected, columns, after, limit: limit + 1, longest: longestShown }))),
    );
    const shown = rows.slice(0, limit);
    const last = shown.at(-1);
    const links = linksOf(designFor(this.app.design, this.person), table.id);
    const ids = shown.map((row) => row.id);
    const named = await namesOf(this.runner, this.app, this.person, links, ids, mostNamed);
    const tones = await this.tonesOf(table, this.list(table, selection).tones, ids);
    return {
      records: shown.map((row): RecordAnswer => {
        const record = recordOf(row, columns, false);
        const tone = tones.get(row.id);
        const linked = Object.fromEntries(links.map(({ id }, i) => [id, named[i]?.get(row.id) ?? null]));
        return { ...record, values: { ...record.values, ...linked }, ...(tone === undefined ? {} : { tone }) };
      }),
      next: rows.length > limit && last !== undefined ? placeOf(last) : null,
    };
  }

  /** The colour of each of some records: of the first condition that it meets. */
  private async tonesOf(table: Table, tones: List['tones'], ids: readonly number[]): Promise<ReadonlyMap<number, Pick<RowTone, 'tone' | 'name'>>> {
    const read = tones.flatMap(({ condition, tone, name }) => {
      const checked = check(condition, { design: this.app.design, table: table.id }, wants.truth);
      return checked.ok ? [{ node: checked.node, tone: { tone, name } }] : [];
    });
    if (read.length === 0 || ids.length === 0) return new Map();
    const source = this.source(queryOf(table.id, { where: { kind: 'ids', ids } }));
    const rows = await this.rows<{ id: number; met: readonly number[] }>(
      compileMeeting(
        source,
        read.map((each) => each.node),
      ),
    );
    return new Map(
      rows.flatMap(({ id, met: [first] }) => {
        const tone = first === undefined ? undefined : read[first]?.tone;
        return tone === undefined ? [] : [[id, tone] as const];
      }),
    );
  }

  private checkPlace(table: Table, { sort, then }: Picking, after: Cursor | null): void {
    if (after === null) return;
    [sort, ...then].forEach((each, i) => {
      if (each === null) return;
      const value = i === 0 ? after.value : (after.then?.[i - 1] ?? null);
      checkCursor(this.app.design, table, fieldOf(table, each.field), value);
    });
  }

  /** The place after so many records of a list; null where there are none. */
  async place(tableId: string, selection: Selection, after: Cursor | null, skip: number): Promise<{ skipped: number; next: Cursor | null }> {
    const table = this.table(tableId);
    const selected = this.selected(table, selection);
    this.checkPlace(table, selected, after);
    const query = queryOf(table.id, { ...selected, columns: [], after, limit: skip });
    const [last] = await this.rows<PlaceRow & { readonly __count: number }>(compilePlace(...this.source(query)));
    return last === undefined ? { skipped: 0, next: null } : { skipped: last.__count, next: placeOf(last) };
  }

  async count(tableId: string, selection: Selection, most: number | null): Promise<number> {
    const { where } = this.selected(this.table(tableId), selection);
    const [row] = await this.rows<{ count: number }>(compileCount(this.source(queryOf(tableId, { where })), most));
    return row?.count ?? 0;
  }

  /** @throws Refusal not_found when it is not there or not this person's to see */
  async record(tableId: string, id: number): Promise<RecordAnswer> {
    const columns = this.fieldsOf(this.table(tableId));
    const [row] = await this.rows<PageRow>(compilePage(...this.source(queryOf(tableId, { columns, where: { kind: 'ids', ids: [id] }, limit: 1 }))));
    if (row === undefined) throw new Refusal('not_found', 'This record no longer exists, or you no longer have access to it.');
    return recordOf(row, columns, true);
  }

  /** A record with its children, as its form shows them; or without. */
  async open(tableId: string, id: number, asked: { readonly form?: string | undefined; readonly children: 'yes' | 'no' }): Promise<OpenRecord> {
    const record = await this.record(tableId, id);
    const [named] = await this.captions(tableId, [id]);
    const children: OpenRecord['children'] = [];
    const opened = { caption: named?.caption ?? `No. ${id}`, record, children, ...(await mayDo(this.runner, this.app, this.person, tableId, id)) };
    if (asked.children === 'no') return opened;
    const theirs = designFor(this.app.design, this.person);
    const rowsOf = new Map(
      namedForm(theirs, tableId, asked.form, this.person.roles).items.flatMap((item) => (item.kind === 'children' ? [[item.relationship, item]] : [])),
    );
    for (const child of childrenOf(this.app.design, tableId)) {
      const item = rowsOf.get(child.id);
      if (item === undefined) continue;
      const sort = item.orderedBy === undefined ? null : ({ field: item.orderedBy, direction: 'up' } as const);
      const columns = this.fieldsOf(tableOf(this.app.design, child.child));
      const rows = await this.rows<PageRow>(
        compilePage(
          ...this.source(
            queryOf(child.child, { columns, where: { kind: 'equals', field: child.field, value: id }, sort, limit: mostChildren + 1, longest: longestShown }),
          ),
        ),
      );
      children.push({
        relationship: child.id,
        records: rows.slice(0, mostChildren).map((row) => recordOf(row, columns, false)),
        more: rows.length > mostChildren,
      });
    }
    return opened;
  }

  /** What forms for a new record begin with, of the record that this person added last. */
  async lastEntered(tableId: string): Promise<RecordAnswer['values']> {
    const table = this.table(tableId);
    const told = this.fieldsOf(table);
    const columns = table.fields.filter((field) => field.startsWithLast && told.includes(field.id)).map((field) => field.id);
    if (columns.length === 0) return {};
    const where: Condition = { kind: 'added_by', person: this.person.id };
    const [row] = await this.rows<PageRow>(compilePage(...this.source(queryOf(tableId, { columns, where, backwards: true, limit: 1 }))));
    return row === undefined ? {} : recordOf(row, columns, true).values;
  }

  captions(tableId: string, ids: readonly number[]): Promise<readonly { id: number; caption: string }[]> {
    return this.rows(compileCaptions(...this.source(queryOf(tableId, { where: { kind: 'ids', ids }, limit: ids.length }))));
  }

  /** Records of the list with their places, the nearest to a point first. @throws Refusal bad_request when the field holds no places */
  nearest(tableId: string, fieldId: string, point: Point | null): Promise<readonly { id: number; caption: string; place: string }[]> {
    const table = this.table(tableId);
    const field = table.fields.find((each) => each.id === fieldId);
    if (field?.kind !== 'place' || !this.fieldsOf(table).includes(fieldId)) throw new Refusal('bad_request', 'There is no such field with places.');
    const { where } = this.selected(table, { search: '', direction: 'up' });
    return this.rows(compileNearest(this.source(queryOf(tableId, { where, limit: mostNear })), field, point));
  }

  /** Records by what they are called, with what is shown beside it. */
  async lookUp(tableId: string, text: string, limit = 30): Promise<readonly { id: number; caption: string; values?: RecordAnswer['values'] }[]> {
    const table = this.table(tableId);
    const found = await this.rows<{ id: number; caption: string }>(compileLookup(this.source(queryOf(tableId, { limit })), text));
    const told = this.fieldsOf(table);
    const columns = (table.shownWith ?? []).filter((id) => told.includes(id));
    if (columns.length === 0 || found.length === 0) return found;
    const ids = found.map((each) => each.id);
    const rows = await this.rows<PageRow>(
      compilePage(...this.source(queryOf(tableId, { columns, where: { kind: 'ids', ids }, limit: ids.length, longest: longestShown }))),
    );
    const byId = new Map(rows.map((row) => [row.id, recordOf(row, columns, false).values]));
    return found.map((each) => ({ ...each, ...(byId.has(each.id) ? { values: byId.get(each.id) ?? {} } : {}) }));
  }

  /** The records before and after one in the order of a list. */
  async neighbours(tableId: string, id: number, selection: Selection): Promise<{ previous: number | null; next: number | null }> {
    const table = this.table(tableId);
    const selected = this.selected(table, selection);
    const { sort, then } = selected;
    const [here] = await this.rows<PageRow>(compilePage(...this.source(queryOf(tableId, { sort, then, where: { kind: 'ids', ids: [id] }, limit: 1 }))));
    if (here === undefined) return { previous: null, next: null };
    const after = placeOf(here);
    const step = async (backwards: boolean): Promise<number | null> => {
      const [row] = await this.rows<PageRow>(compilePage(...this.source(queryOf(tableId, { ...selected, after, backwards, limit: 1 }))));
      return row?.id ?? null;
    };
    return { previous: await step(true), next: await step(false) };
  }

  /** What an expression gives for the first records of a table; of a condition also how many meet it. */
  async tried(tableId: string, text: string, countedTo: number, of: Person): Promise<TriedExpression> {
    const table = this.table(tableId);
    const checked = check(text, { design: this.app.design, table: table.id }, wantedColumn(null));
    if (!checked.ok) throw new Refusal('invalid', checked.problems[0]?.message ?? '');
    const { node } = checked;
    // Every record, as one person's condition is asked of it.
    const source = (parts: Partial<Query>) =>
      [restrictForRules(queryOf(table.id, parts), this.app.design, of, Date.now()), this.app.design, this.app.schema] as const;
    const rows = await this.rows<TriedExpression['rows'][number]>(compileComputed(source({ limit: triedShown }), node));
    const isCondition = node.type.kind === 'boolean';
    const counted = async (where: Condition): Promise<number> =>
      (await this.rows<{ count: number }>(compileCount(source({ where }), countedTo)))[0]?.count ?? 0;
    const met = isCondition ? await counted({ kind: 'meets', condition: node }) : null;
    return { rows: [...rows], met, of: await counted(everything), countedTo };
  }

  async statistics(tableId: string): Promise<{ fields: FieldStatistics[]; sampled: boolean }> {
    const table = this.table(tableId);
    const source = this.source(queryOf(tableId));
    const [counted] = await this.rows<{ count: number }>(compileCount(source, statisticsRead * 50));
    const rows = counted?.count ?? 0;
    const sample = rows > statisticsRead ? (statisticsRead / rows) * 100 : null;
    const fields: FieldStatistics[] = [];
    for (const field of table.fields) {
      const [row] = await this.rows<{ rows: number; filled: number; distinct_values: number; low: string | null; high: string | null; spread: number[] }>(
        compileStatistics(source, field.id, bins, sample),
      );
      if (row !== undefined)
        fields.push({ field: field.id, rows: row.rows, filled: row.filled, distinct: row.distinct_values, low: row.low, high: row.high, spread: row.spread });
    }
    return { fields, sampled: sample !== null };
  }

  /** @throws Refusal invalid when the field is none of texts */
  async frequent(tableId: string, fieldId: string): Promise<{ values: string[]; more: boolean }> {
    const field = this.table(tableId).fields.find((each) => each.id === fieldId);
    if (field?.kind !== 'text' && field?.kind !== 'long_text') throw new Refusal('invalid', 'Only the values of a text field can become choices.');
    const rows = await this.rows<{ value: string }>(compileFrequent(this.source(queryOf(tableId, { limit: mostFrequent + 1 })), fieldId));
    return { values: rows.slice(0, mostFrequent).map((row) => row.value), more: rows.length > mostFrequent };
  }
}

/** A cursor from the address must be of the kind that its column compares with, or PostgreSQL would refuse the statement. */
function checkCursor(design: AppDesign, table: Table, field: Field, value: Cursor['value']): void {
  if (value === null) return;
  const isWhole = typeof value === 'number' && Number.isSafeInteger(value);
  const isDigits = typeof value === 'string' && /^-?\d{1,900}(\.\d{1,900})?$/u.test(value);
  const isDate = typeof value === 'string' && parseDate(value, 'ymd') === value;
  const fits = (): boolean => {
    // A reference is sorted by its caption, which is a text of any form.
    const sortType = field.kind === 'reference' ? null : kindOf(field).column?.sortType;
    if (sortType === 'bigint') return isWhole;
    if (sortType === 'integer') return isWhole && Math.abs(value) < 2 ** 31;
    if (sortType === 'time') return kindOf(field).value.problem(value, field) === null;
    switch (typeOfField(design, table.id, field)?.kind) {
      case 'boolean':
        return typeof value === 'boolean';
      case 'date':
        return isDate;
      case 'number':
      case 'time':
      case 'days and time duration':
      case 'years and months duration':
        return isDigits;
      case 'date and time':
        return (
          typeof value === 'string' &&
          /^\d{4}-\d\d-\d\d \d\d:\d\d:\d\d(\.\d{1,6})?[+-]\d\d(:\d\d)?$/u.test(value) &&
          parseDate(value.slice(0, 10), 'ymd') !== null
        );
      default:
        return typeof value === 'string';
    }
  };
  if (!fits()) throw new Refusal('bad_request', 'The place in the list cannot be read. Load the list again.');
}
