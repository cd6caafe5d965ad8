/** Reading records: each handler is a query, restricted to its person, compiled and run. */
import {
  check,
  childrenOf,
  compileComputed,
  compileCount,
  compileCaptions,
  compileLookup,
  compileNearest,
  compilePage,
  compilePlace,
  compileFrequent,
  compileStatistics,
  designFor,
  everything,
  fieldOf,
  formFor,
  kindOf,
  linksOf,
  listFor,
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
  type OpenRecord,
  type Person,
  type Point,
  type Query,
  type RecordAnswer,
  type Selection,
  type Statement,
  type Table,
  type Value,
} from '@bibliona/core';
import type { z } from 'zod';
import { run, type Runner } from '../db/run.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { namesOf } from './pairs.js';

interface PageRow {
  readonly id: number;
  readonly rev: number;
  readonly __key: Value;
  readonly [field: string]: unknown;
}

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
    const table = this.app.design.tables.find((one) => one.id === id);
    if (table === undefined) throw new Refusal('not_found', 'This table no longer exists in the app.');
    return table;
  }

  /** The fields of a table of which this person is told; of all others not even that they are there. */
  private fieldsOf(table: Table): readonly string[] {
    return (designFor(this.app.design, this.person).tables.find((one) => one.id === table.id)?.fields ?? []).map((field) => field.id);
  }

  private source(query: Query) {
    return [restrict(query, this.app.design, this.person, Date.now()), this.app.design, this.app.schema] as const;
  }
  private rows<Row extends object>(statement: Statement): Promise<readonly Row[]> {
    return run<Row>(this.runner, statement);
  }

  /** What a list shows of a table: its condition, the search and the order. @throws Refusal bad_request */
  selected(table: Table, selection: Selection): Pick<Query, 'where' | 'sort'> {
    if (selection.sort !== undefined && !table.fields.some((field) => field.id === selection.sort))
      throw new Refusal('bad_request', 'There is no such field to sort by.');
    const { condition } = listFor(this.app.design, table.id);
    const listed = condition === '' ? null : check(condition, { design: this.app.design, table: table.id }, wants.truth);
    return {
      where: {
        kind: 'all',
        of: [
          ...(listed?.ok === true ? [{ kind: 'meets', condition: listed.node } as const] : []),
          ...(selection.search.trim() === '' ? [] : [{ kind: 'search', text: selection.search } as const]),
        ],
      },
      sort: selection.sort === undefined ? null : { field: selection.sort, direction: selection.direction },
    };
  }

  async page(tableId: string, selection: Selection, after: Cursor | null, limit: number): Promise<{ records: RecordAnswer[]; next: Cursor | null }> {
    const table = this.table(tableId);
    const columns = this.fieldsOf(table);
    const picked = this.selected(table, selection);
    if (after !== null && picked.sort !== null) checkCursor(this.app.design, table, fieldOf(table, picked.sort.field), after);
    const rows = await this.rows<PageRow>(
      compilePage(...this.source(queryOf(table.id, { ...picked, columns, after, limit: limit + 1, longest: longestShown }))),
    );
    const shown = rows.slice(0, limit);
    const last = shown.at(-1);
    const links = linksOf(designFor(this.app.design, this.person), table.id);
    const ids = shown.map((row) => row.id);
    const named = await namesOf(this.runner, this.app, this.person, links, ids, mostNamed);
    return {
      records: shown.map((row): RecordAnswer => {
        const record = recordOf(row, columns, false);
        return { ...record, values: { ...record.values, ...Object.fromEntries(links.map(({ id }, i) => [id, named[i]?.get(row.id) ?? null])) } };
      }),
      next: rows.length > limit && last !== undefined ? { value: last.__key as Cursor['value'], id: last.id } : null,
    };
  }

  /** The place after so many records of a list; null where there are none. */
  async place(tableId: string, selection: Selection, after: Cursor | null, skip: number): Promise<{ skipped: number; next: Cursor | null }> {
    const table = this.table(tableId);
    const picked = this.selected(table, selection);
    if (after !== null && picked.sort !== null) checkCursor(this.app.design, table, fieldOf(table, picked.sort.field), after);
    const query = queryOf(table.id, { ...picked, columns: [], after, limit: skip });
    const [last] = await this.rows<{ id: number; __key: Cursor['value']; __count: number }>(compilePlace(...this.source(query)));
    return last === undefined ? { skipped: 0, next: null } : { skipped: last.__count, next: { value: last.__key, id: last.id } };
  }

  async count(tableId: string, selection: Selection, most: number | null): Promise<number> {
    const { where } = this.selected(this.table(tableId), selection);
    const [row] = await this.rows<{ count: number }>(compileCount(this.source(queryOf(tableId, { where })), most));
    return row?.count ?? 0;
  }

  /** @throws Refusal not_found when it is not there or not this person's to see */
  async one(tableId: string, id: number): Promise<RecordAnswer> {
    const columns = this.fieldsOf(this.table(tableId));
    const [row] = await this.rows<PageRow>(compilePage(...this.source(queryOf(tableId, { columns, where: { kind: 'ids', ids: [id] }, limit: 1 }))));
    if (row === undefined) throw new Refusal('not_found', 'This record no longer exists, or you no longer have access to it.');
    return recordOf(row, columns, true);
  }

  /** A record with its children, as its form shows them. */
  async open(tableId: string, id: number): Promise<OpenRecord> {
    const record = await this.one(tableId, id);
    const [named] = await this.captions(tableId, [id]);
    const children: OpenRecord['children'] = [];
    const theirs = designFor(this.app.design, this.person);
    const shown = new Set(formFor(theirs, tableId).items.flatMap((item) => (item.kind === 'children' ? [item.relationship] : [])));
    for (const one of childrenOf(this.app.design, tableId).filter((each) => shown.has(each.id))) {
      const columns = this.fieldsOf(tableOf(this.app.design, one.child));
      const rows = await this.rows<PageRow>(
        compilePage(
          ...this.source(
            queryOf(one.child, { columns, where: { kind: 'equals', field: one.field, value: id }, limit: mostChildren + 1, longest: longestShown }),
          ),
        ),
      );
      children.push({
        relationship: one.id,
        records: rows.slice(0, mostChildren).map((row) => recordOf(row, columns, false)),
        more: rows.length > mostChildren,
      });
    }
    return { caption: named?.caption ?? `No. ${id}`, record, children };
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
    const field = table.fields.find((one) => one.id === fieldId);
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
    const ids = found.map((one) => one.id);
    const rows = await this.rows<PageRow>(
      compilePage(...this.source(queryOf(tableId, { columns, where: { kind: 'ids', ids }, limit: ids.length, longest: longestShown }))),
    );
    const byId = new Map(rows.map((row) => [row.id, recordOf(row, columns, false).values]));
    return found.map((one) => ({ ...one, ...(byId.has(one.id) ? { values: byId.get(one.id) ?? {} } : {}) }));
  }

  /** The records before and after one in the order of a list. */
  async neighbours(tableId: string, id: number, selection: Selection): Promise<{ previous: number | null; next: number | null }> {
    const table = this.table(tableId);
    const picked = this.selected(table, selection);
    const [here] = await this.rows<PageRow>(compilePage(...this.source(queryOf(tableId, { sort: picked.sort, where: { kind: 'ids', ids: [id] }, limit: 1 }))));
    if (here === undefined) return { previous: null, next: null };
    const after: Cursor = { value: here.__key as Cursor['value'], id };
    const step = async (backwards: boolean): Promise<number | null> => {
      const [row] = await this.rows<PageRow>(compilePage(...this.source(queryOf(tableId, { ...picked, after, backwards, limit: 1 }))));
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
    const field = this.table(tableId).fields.find((one) => one.id === fieldId);
    if (field?.kind !== 'text' && field?.kind !== 'long_text') throw new Refusal('invalid', 'Only the values of a text field can become choices.');
    const rows = await this.rows<{ value: string }>(compileFrequent(this.source(queryOf(tableId, { limit: mostFrequent + 1 })), fieldId));
    return { values: rows.slice(0, mostFrequent).map((row) => row.value), more: rows.length > mostFrequent };
  }
}

/** A cursor from the address must be of the kind that its column compares with, or PostgreSQL would refuse the statement. */
function checkCursor(design: AppDesign, table: Table, field: Field, { value }: Cursor): void {
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
