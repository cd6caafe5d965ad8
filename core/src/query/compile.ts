/** Questions to the records of a table as SQL. Names come from the design, values travel as parameters, never raises on data. */
import { isStored, type AppDesign, type Field, type StoredField, type Table } from '../design/design.js';
import { typeOfField } from '../parts/expressions.js';
import { fieldOf, parentOf, tableOf } from '../design/read.js';
import { rowOf } from '../expression/compile.js';
import { sqlType } from '../feel/sql-constant.js';
import type { Node } from '../expression/node.js';
import type { SqlRecord } from '../feel/sql-value.js';
import { columnKind, columnType } from '../migration/columns.js';
import { ident, type Statement } from '../sql/sql.js';
import { kindOf } from '../fields/kinds.js';
import type { Value } from '../fields/value.js';
import type { Sort } from '../design/list.js';
import { TableCompiler, tableName } from './compiler.js';
import type { Cursor, Query, RestrictedQuery } from './query.js';

class Compiler extends TableCompiler<Query> {
  /** What a table is sorted by: the column, or for a reference what the record is called, for a choice its place. */
  private sortKey(row: SqlRecord, field: Field): string {
    const column = `${row.alias}.${ident(field.column)}`;
    if (field.kind === 'reference') {
      const parent = parentOf(this.design, field);
      const inner = rowOf(this.alias(), parent.id);
      const caption = this.caption(inner);
      return `(SELECT ${caption} FROM ${[`${this.visible(parent)} AS ${inner.alias}`, ...inner.scope.joins].join(' ')} WHERE ${inner.alias}.id = ${column})`;
    }
    if (field.kind === 'formula') return this.expressions.value(this.formula(field, row.table), row);
    return columnKind(field).sortKey(column, field);
  }

  /** PostgreSQL's type of the sort key. */
  private keyType(table: Table, field: Field): string {
    if (isStored(field)) return columnKind(field).sortType;
    const type = typeOfField(this.design, table.id, field);
    return type === null ? 'text' : sqlType(type);
  }

  /** A column of the result as it travels: exact numbers and dates as text, a reference with what it is called. */
  private shown(row: SqlRecord, field: Field): string {
    const column = `${row.alias}.${ident(field.column)}`;
    if (field.kind === 'formula') {
      const node = this.formula(field, row.table);
      return node.type.kind === 'boolean' ? this.expressions.value(node, row) : this.cut(this.expressions.text(node, row));
    }
    if (field.kind !== 'reference') {
      const { sent, isWhole, shortened } = columnKind(field);
      const { longest } = this.restricted.query;
      if (shortened !== undefined && longest !== null) return shortened.sql(column, longest);
      return kindOf(field).traits.searched && isWhole !== true ? this.cut(sent(column)) : sent(column);
    }
    const parent = this.expressions.parent(row, field, parentOf(this.design, field).id);
    // A reference to a record this person can't see is as empty as none.
    return `CASE WHEN ${parent.alias}.id IS NOT NULL THEN jsonb_build_object('id', ${parent.alias}.id, 'caption', ${this.cut(this.caption(parent))}) END`;
  }

  private cut(text: string): string {
    const { longest } = this.restricted.query;
    return longest === null ? text : `left(${text}, ${longest + 1})`;
  }

  /**
   * One page. Empty values come last in both directions, so a page is the rest of the filled ones and then the empty
   * ones: two ranges of one index, joined by UNION ALL, of which PostgreSQL reads the second only when needed.
   */
  page(): Statement {
    return this.ofPage(false);
  }

  /** The last row of a page, which tells where the next one begins, and how many rows the page has: no value of a record is read for it. */
  place(): Statement {
    return this.ofPage(true);
  }

  private ofPage(isPlace: boolean): Statement {
    const { query } = this.restricted;
    if (query.sort !== null && query.then.length > 0) return this.ofPageInOrder([query.sort, ...query.then], isPlace);
    const table = tableOf(this.design, query.table);
    const field = query.sort === null ? null : fieldOf(table, query.sort.field);
    const ascending = (query.sort?.direction !== 'down') !== query.backwards;
    const limit = this.sql.param(query.limit, 'integer');
    const range = (limits: (key: string) => { readonly extra: string | null; readonly order: string }): string => {
      const row = rowOf('t', table.id);
      const key = field === null ? 'NULL' : this.sortKey(row, field);
      const { extra, order } = limits(key);
      const where = [this.condition(query.where, table, row), extra].filter((each) => each !== null && each !== 'true');
      return `SELECT t.*, ${key} AS __key FROM ${this.from(table, row)}${where.length === 0 ? '' : ` WHERE ${where.join(' AND ')}`} ORDER BY ${order} LIMIT ${limit}`;
    };
    const up = ascending ? 'ASC' : 'DESC';
    const beyond = ascending ? '>' : '<';
    const ranges: string[] = [];
    if (field === null) {
      const past = query.after === null ? null : `t.id ${beyond} ${this.sql.param(query.after.id, 'bigint')}`;
      ranges.push(range(() => ({ extra: past, order: `t.id ${up}` })));
    } else {
      const filled = (): string =>
        range((key) => {
          const past = query.after === null || query.after.value === null ? null : this.pastFilled(key, this.keyType(table, field), query.after, ascending);
          return { extra: past === null ? `${key} IS NOT NULL` : past, order: `${key} ${up}, t.id ${up}` };
        });
      const empty = (): string => {
        const past = query.after !== null && query.after.value === null ? ` AND t.id ${beyond} ${this.sql.param(query.after.id, 'bigint')}` : '';
        return range((key) => ({ extra: `${key} IS NULL${past}`, order: `t.id ${up}` }));
      };
      const hasEmpty = !field.required || field.kind === 'reference' || this.fieldSight(table.id, field) !== 'always';
      const startsInEmpty = query.after !== null && query.after.value === null;
      if (query.backwards) {
        if (hasEmpty && (query.after === null || startsInEmpty)) ranges.push(empty());
        ranges.push(filled());
      } else {
        if (!startsInEmpty) ranges.push(filled());
        if (hasEmpty || startsInEmpty) ranges.push(empty());
      }
    }
    const union = ranges.length === 1 ? (ranges[0] ?? '') : `SELECT * FROM (${ranges.map((each) => `(${each})`).join(' UNION ALL ')}) AS ranges LIMIT ${limit}`;
    const isExact = field !== null && ['date', 'numeric', 'timestamptz'].includes(this.keyType(table, field));
    const keyText = field === null ? 'NULL' : isExact ? 'p.__key::text' : 'p.__key';
    const order = (way: 'ASC' | 'DESC', emptyFirst: boolean): string =>
      `${field === null ? '' : `p.__key ${way} NULLS ${emptyFirst ? 'FIRST' : 'LAST'}, `}p.id ${way}`;
    if (isPlace) {
      const back = order(ascending ? 'DESC' : 'ASC', !query.backwards);
      return this.sql.done(`SELECT p.id, ${keyText} AS __key, count(*) OVER ()::integer AS __count FROM (${union}) AS p ORDER BY ${back} LIMIT 1`);
    }
    // The joins can return the page in any order, so it is put back into its own.
    const row = rowOf('p', table.id);
    const select = query.columns.map((id) => `, ${this.shown(row, fieldOf(table, id))} AS ${ident(id)}`).join('');
    const joins = row.scope.joins.map((join) => ` ${join}`).join('');
    return this.sql.done(`SELECT p.id, p.rev, ${keyText} AS __key${select} FROM (${union}) AS p${joins} ORDER BY ${order(up, query.backwards)}`);
  }

  /** The same for several orders, each of which decides between equals of those before it. No index serves them all, so it is one range. */
  private ofPageInOrder(orders: readonly Sort[], isPlace: boolean): Statement {
    const { query } = this.restricted;
    const table = tableOf(this.design, query.table);
    const row = rowOf('t', table.id);
    const keys = orders.map((each, i) => {
      const field = fieldOf(table, each.field);
      const type = this.keyType(table, field);
      const name = `__key${i}`;
      const isExact = ['date', 'numeric', 'timestamptz'].includes(type);
      const isUp = (each.direction === 'up') !== query.backwards;
      return { name, sql: this.sortKey(row, field), type, isUp, sent: isExact ? `p.${name}::text` : `p.${name}` };
    });
    const where = this.condition(query.where, table, row);
    const all = `SELECT t.*, ${keys.map(({ sql, name }) => `${sql} AS ${name}`).join(', ')} FROM ${this.from(table, row)} WHERE ${where}`;
    // Empty values come last, and first on the way back.
    const order = (alias: string, turned: boolean): string =>
      [
        ...keys.map(({ name, isUp }) => `${alias}.${name} ${isUp === turned ? 'DESC' : 'ASC'} NULLS ${query.backwards === turned ? 'LAST' : 'FIRST'}`),
        `${alias}.id ${query.backwards === turned ? 'ASC' : 'DESC'}`,
      ].join(', ');
    const past = query.after === null ? '' : ` WHERE ${this.pastInOrder(keys, query.after)}`;
    const page = `SELECT * FROM (${all}) AS o${past} ORDER BY ${order('o', false)} LIMIT ${this.sql.param(query.limit, 'integer')}`;
    const [first, ...others] = keys.map((key) => key.sent);
    const ends = `${first ?? 'NULL'} AS __key, jsonb_build_array(${others.join(', ')}) AS __then`;
    if (isPlace) return this.sql.done(`SELECT p.id, ${ends}, count(*) OVER ()::integer AS __count FROM (${page}) AS p ORDER BY ${order('p', true)} LIMIT 1`);
    const shown = rowOf('p', table.id);
    const select = query.columns.map((id) => `, ${this.shown(shown, fieldOf(table, id))} AS ${ident(id)}`).join('');
    const joins = shown.scope.joins.map((join) => ` ${join}`).join('');
    return this.sql.done(`SELECT p.id, p.rev, ${ends}${select} FROM (${page}) AS p${joins} ORDER BY ${order('p', false)}`);
  }

  /** Past a place: past it by the first key, or equal by it and past it by the next, and so on to the id. */
  private pastInOrder(keys: readonly { readonly name: string; readonly type: string; readonly isUp: boolean }[], after: Cursor): string {
    const { backwards } = this.restricted.query;
    const steps: string[] = [];
    const equal: string[] = [];
    keys.forEach(({ name, type, isUp }, i) => {
      const at = i === 0 ? after.value : (after.then?.[i - 1] ?? null);
      const value = at === null ? null : this.sql.param(at, type);
      const beyond =
        value === null
          ? backwards
            ? `o.${name} IS NOT NULL`
            : 'false'
          : `(o.${name} ${isUp ? '>' : '<'} ${value}${backwards ? '' : ` OR o.${name} IS NULL`})`;
      steps.push([...equal, beyond].join(' AND '));
      equal.push(value === null ? `o.${name} IS NULL` : `o.${name} = ${value}`);
    });
    steps.push([...equal, `o.id ${backwards ? '<' : '>'} ${this.sql.param(after.id, 'bigint')}`].join(' AND '));
    return `(${steps.map((step) => `(${step})`).join(' OR ')})`;
  }

  private pastFilled(key: string, type: string, after: Cursor, ascending: boolean): string {
    const value = this.sql.param(after.value, type);
    const [or, and] = ascending ? ['>=', '>'] : ['<=', '<'];
    // Measured: this shape walks the index at once, (a > x OR a = x AND id > y) reads all that came before.
    return `${key} ${or} ${value} AND (${key} ${and} ${value} OR t.id ${and} ${this.sql.param(after.id, 'bigint')})`;
  }

  /** How many records, counting no further than `most` when it is given. */
  count(most: number | null): Statement {
    const { from } = this.asked();
    return this.sql.done(
      most === null
        ? `SELECT count(*)::float8 AS count ${from}`
        : `SELECT count(*)::float8 AS count FROM (SELECT ${from} LIMIT ${this.sql.param(most, 'integer')}) AS counted`,
    );
  }

  /** The records asked for, from FROM on, once all that is selected of the row `t` is compiled. */
  private asked(select?: (row: SqlRecord) => string): { readonly selected: string; readonly from: string } {
    const { query } = this.restricted;
    const table = tableOf(this.design, query.table);
    const row = rowOf('t', table.id);
    const selected = select?.(row) ?? '';
    const where = this.condition(query.where, table, row);
    return { selected, from: `FROM ${this.from(table, row)} WHERE ${where}` };
  }

  /** The values of one field, as text: what an import holds a unique field against. */
  valuesOf(fieldId: string): Statement {
    const column = `t.${ident(fieldOf(tableOf(this.design, this.restricted.query.table), fieldId).column)}`;
    const { from } = this.asked();
    return this.sql.done(`SELECT ${column}::text AS value ${from} AND ${column} IS NOT NULL`);
  }

  /** Of each record its id and some of its fields as PostgreSQL prints them. */
  keysOf(fieldIds: readonly string[]): Statement {
    const table = tableOf(this.design, this.restricted.query.table);
    const { from } = this.asked();
    return this.sql.done(`SELECT t.id, ARRAY[${fieldIds.map((id) => `t.${ident(fieldOf(table, id).column)}::text`).join(', ')}]::text[] AS cells ${from}`);
  }

  /** The most frequent texts of a field, the most frequent first. */
  frequent(fieldId: string): Statement {
    const text = `trim(t.${ident(fieldOf(tableOf(this.design, this.restricted.query.table), fieldId).column)})`;
    const { from } = this.asked();
    // Spellings that differ only in case are one value, shown in its most frequent spelling.
    return this.sql.done(
      `SELECT mode() WITHIN GROUP (ORDER BY v) AS value FROM (SELECT ${text} AS v ${from} AND ${text} <> '') AS f GROUP BY lower(v) ORDER BY count(*) DESC, 1 LIMIT ${this.sql.param(this.restricted.query.limit, 'integer')}`,
    );
  }

  /** What an expression gives for each of the records, as text: what the proof shows beside it while it is written. */
  computed(node: Node): Statement {
    const value = (row: SqlRecord): string => (node.type.kind === 'record' ? this.captionOf(node, row) : this.expressions.text(node, row));
    const { selected, from } = this.asked((row) => `${this.caption(row)} AS caption, ${value(row)} AS value`);
    return this.sql.done(`SELECT t.id, ${selected} ${from} ORDER BY t.id LIMIT ${this.sql.param(this.restricted.query.limit, 'integer')}`);
  }

  /** What the record is called that an expression leads to; null where it leads to none. */
  private captionOf(node: Node, row: SqlRecord): string {
    const record = this.expressions.record(node, row);
    return `CASE WHEN ${record.alias}.id IS NOT NULL THEN ${this.caption(record)} END`;
  }

  /** Which of the conditions each record fails: those that are false of it, by their place. */
  failing(conditions: readonly Node[]): Statement {
    const { selected, from } = this.asked((row) =>
      conditions.map((condition, i) => `CASE WHEN NOT ${this.expressions.value(condition, row)} THEN ${i} END`).join(', '),
    );
    return this.sql.done(
      `SELECT id, failed FROM (SELECT t.id, array_remove(ARRAY[${selected}], NULL) AS failed ${from}) AS asked WHERE cardinality(failed) > 0`,
    );
  }

  /** Which of the conditions each record meets: those that are true of it, by their place. */
  meeting(conditions: readonly Node[]): Statement {
    const { selected, from } = this.asked((row) =>
      conditions.map((condition, i) => `CASE WHEN ${this.expressions.condition(condition, row)} THEN ${i} END`).join(', '),
    );
    return this.sql.done(`SELECT t.id, array_remove(ARRAY[${selected}]::integer[], NULL) AS met ${from}`);
  }

  /** The same of records as they were once, or would be, instead of those that the table holds. */
  meetingOf(states: readonly RecordState[], conditions: readonly Node[]): Statement {
    const table = tableOf(this.design, this.restricted.query.table);
    const row = rowOf('t', table.id);
    const met = conditions.map((condition, i) => `CASE WHEN ${this.expressions.condition(condition, row)} THEN ${i} END`).join(', ');
    const stored = table.fields.filter(isStored);
    // A value from before its field became another kind may be none of the column's type any more; casting it would raise.
    const valueIn = (field: StoredField, value: Value | undefined): Value =>
      value == null || kindOf(field).value.problem(value, field) !== null ? null : value;
    const given = states.map(({ id, values }, at) => ({
      __at: at,
      id,
      ...Object.fromEntries(stored.map((field) => [field.column, valueIn(field, values[field.id])])),
    }));
    const columns = stored.map((field) => `, ${ident(field.column)} ${columnType(field)}`).join('');
    // A record that is not there yet would be created by this person.
    const person = this.sql.param(this.restricted.around.person ?? null, 'bigint');
    const made = (column: string, now: string): string =>
      `CASE WHEN g.id = 0 THEN ${now} ELSE (SELECT s.${column} FROM ${tableName(this.schema, table)} AS s WHERE s.id = g.id) END AS ${column}`;
    const written = `${made('created_by', person)}, ${made('created_at', 'now()')}, ${person} AS updated_by, now() AS updated_at`;
    const rows = `(SELECT g.*, ${written} FROM jsonb_to_recordset(${this.sql.param(JSON.stringify(given), 'jsonb')}) AS g(__at integer, id bigint${columns})) AS t`;
    return this.sql.done(`SELECT t.__at AS id, array_remove(ARRAY[${met}]::integer[], NULL) AS met FROM ${[rows, ...row.scope.joins].join(' ')}`);
  }

  /** The value of a field by which it is counted: a reference to a record out of sight counts as none. */
  private counted(row: SqlRecord, field: Field): string {
    if (field.kind === 'formula') return this.expressions.value(this.formula(field, row.table), row);
    if (field.kind !== 'reference') return `${row.alias}.${ident(field.column)}`;
    const parent = parentOf(this.design, field);
    const seesAll = this.restricted.sightIn(parent.id).kind === 'all';
    return seesAll ? `${row.alias}.${ident(field.column)}` : `${this.expressions.parent(row, field, parent.id).alias}.id`;
  }

  /** What is really in a field: see `FieldStatistics`. `sample` is the part (in percent) of the pages to read, or null for all. */
  statistics(fieldId: string, bins: number, sample: number | null): Statement {
    const table = tableOf(this.design, this.restricted.query.table);
    const field = fieldOf(table, fieldId);
    const row = rowOf('t', table.id);
    const value = this.counted(row, field);
    const where = this.condition(this.restricted.query.where, table, row);
    // The sample is the same for all fields of one look (REPEATABLE), so that the heads can be compared.
    const sampled = sample === null ? '' : ` TABLESAMPLE SYSTEM (${this.sql.param(sample, 'real')}) REPEATABLE (1)`;
    const from = this.from(table, row, sampled);
    const type = typeOfField(this.design, table.id, field)?.kind;
    const number = type === 'number' ? 'v::float8' : type === 'date' ? "(v - DATE '2000-01-01')::float8" : null;
    const spread = number === null ? frequencies(bins) : histogram(number, bins);
    const [low, high] = number === null ? ['NULL::text', 'NULL::text'] : ['min(v)::text', 'max(v)::text'];
    return this.sql.done(
      `WITH s AS MATERIALIZED (SELECT ${value} AS v FROM ${from} WHERE ${where}) SELECT count(*)::float8 AS rows, count(v)::float8 AS filled, count(DISTINCT v)::float8 AS distinct_values, ${low} AS low, ${high} AS high, (${spread}) AS spread FROM s`,
    );
  }
}

const frequencies = (bins: number): string =>
  `SELECT COALESCE(jsonb_agg(n ORDER BY n DESC), '[]') FROM (SELECT count(*) AS n FROM s WHERE v IS NOT NULL GROUP BY v ORDER BY n DESC LIMIT ${bins}) AS f`;

const histogram = (number: string, bins: number): string =>
  `SELECT COALESCE(jsonb_agg(COALESCE(n, 0) ORDER BY bin), '[]') FROM generate_series(1, ${bins}) AS bin LEFT JOIN (SELECT least(${bins}, CASE WHEN high > low THEN 1 + floor((${number} - low) / (high - low) * ${bins})::int ELSE 1 END) AS bin, count(*) AS n FROM s, (SELECT min(${number}) AS low, max(${number}) AS high FROM s) AS ends WHERE v IS NOT NULL GROUP BY 1) AS h USING (bin)`;

/** A record at some moment: stored values by field id. */
export interface RecordState {
  /** 0: it is not there yet, and this person would create it. */
  readonly id: number;
  readonly values: Readonly<Record<string, Value>>;
}

type Source = readonly [restricted: RestrictedQuery, design: AppDesign, schema: string];

/** Where a page ends, without the page. */
export const compilePlace = (...source: Source): Statement => new Compiler(...source).place();
export const compilePage = (...source: Source): Statement => new Compiler(...source).page();
export const compileCount = (source: Source, most: number | null): Statement => new Compiler(...source).count(most);
export const compileValues = (source: Source, field: string): Statement => new Compiler(...source).valuesOf(field);
/** Rows of id and `cells`, which are texts or null. */
export const compileKeys = (source: Source, fields: readonly string[]): Statement => new Compiler(...source).keysOf(fields);
export const compileFrequent = (source: Source, field: string): Statement => new Compiler(...source).frequent(field);
export const compileStatistics = (source: Source, field: string, bins: number, sample: number | null): Statement =>
  new Compiler(...source).statistics(field, bins, sample);
/** Rows of id, caption and value; of a record its caption is the value. */
export const compileComputed = (source: Source, node: Node): Statement => new Compiler(...source).computed(node);
/** Rows of id and `failed`, the places of the conditions that are false; records that fail none have no row. */
export const compileFailing = (source: Source, conditions: readonly Node[]): Statement => new Compiler(...source).failing(conditions);
/** Rows of id and `met`, the places of the conditions that are true. */
export const compileMeeting = (source: Source, conditions: readonly Node[]): Statement => new Compiler(...source).meeting(conditions);
/** Rows of `id`, the place of the state, and `met`, the places of the conditions that are true of it. */
export const compileMeetingOf = (source: Source, states: readonly RecordState[], conditions: readonly Node[]): Statement =>
  new Compiler(...source).meetingOf(states, conditions);
