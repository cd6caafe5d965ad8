/** Saved queries as SQL: the rows of their result, and the counts of their ledger. */
import type { AppDesign, StoredField } from '../design/design.js';
import type { QueryOrder, Summary } from '../design/saved-query.js';
import { tableOf } from '../design/read.js';
import { rowOf } from '../expression/compile.js';
import { collation } from '../feel/functions/ranges.js';
import type { SqlRecord } from '../feel/sql-value.js';
import { columnKind } from '../migration/columns.js';
import type { Value } from '../fields/value.js';
import { literal, type Statement } from '../sql/sql.js';
import { containing, TableCompiler, wordsOf } from './compiler.js';
import { dayTypes, everyRow, mostPickedValues, pickedTypes, valuesPicked, type ColumnNarrowing, type PickedRows } from './picked-rows.js';
import type { RestrictedQuery } from './query.js';
import { canTotal, isDrawn, isSummedUp, shownType, type AskedColumn, type AskedQuery } from './saved.js';

interface ColumnSql {
  /** What is selected: the first is the value, the others belong to it. Each has its alias. */
  readonly selected: readonly string[];
  /** The aliases by which rows with the same value are one group; empty where the column summarises. */
  readonly groups: readonly string[];
  readonly orders: string;
  /** The value as it travels, read from the selection. */
  readonly shown: string;
}

/** One value for all rows of a column. */
export interface AskedTotal {
  readonly column: string;
  readonly summary: Summary;
}

/** How rows are read. */
export interface RowsRead {
  readonly limit: number;
  /** Another order than that of the query. */
  readonly arranged?: readonly QueryOrder[];
  /** Texts are cut after so many characters and one more, which tells that they are longer. */
  readonly longest?: number | null;
  /** Whether drawings come as a whole, for paper; else as the words that expressions see. */
  readonly withDrawings?: boolean;
  readonly picked?: PickedRows;
  /** So many rows come before those that are read. */
  readonly skip?: number;
}

class ResultCompiler extends TableCompiler<AskedQuery> {
  private readonly isSummedUp = isSummedUp(this.restricted.query);

  private column(column: AskedColumn, index: number, row: SqlRecord): ColumnSql {
    const name = `c${index}`;
    const { node, summary } = column;
    if (node === null) return plain(name, 'count(*)', `r.${name}::text`);
    if (summary === null && node.type.kind === 'record') {
      const record = this.expressions.record(node, row);
      return {
        selected: [`${record.alias}.id AS ${name}`, `CASE WHEN ${record.alias}.id IS NOT NULL THEN ${this.caption(record)} END AS ${name}n`],
        groups: [name, `${name}n`],
        orders: `${name}n`,
        shown: `CASE WHEN r.${name} IS NOT NULL THEN jsonb_build_object('id', r.${name}, 'caption', r.${name}n) END`,
      };
    }
    const stored = this.expressions.column(node, row);
    const isStoredNumber = stored?.stored.isOrdered === true;
    // A column is taken as it is stored, so that its index and its statistics are of use.
    const value =
      node.type.kind === 'record'
        ? `${this.expressions.record(node, row).alias}.id`
        : stored !== null && (stored.stored.isOrdered || summary === null || summary === 'count')
          ? stored.sql
          : this.expressions.value(node, row);
    // The empty value by itself is of no type that can be summarised.
    const numeric = node.type.kind === 'null' ? `${value}::numeric` : value;
    switch (summary) {
      case 'count':
        return plain(name, `count(${value})`, `r.${name}::text`);
      case 'sum':
        return plain(name, `sum(${numeric})`, `trim_scale(r.${name})::text`);
      case 'average':
        return plain(name, `feel.divide(sum(${numeric})::numeric, count(${value})::numeric)`, `trim_scale(r.${name})::text`);
      case 'smallest':
      case 'largest': {
        const sql = `${summary === 'smallest' ? 'min' : 'max'}(${value}${collation(node.type)})`;
        return plain(name, sql, isStoredNumber ? `r.${name}::text` : this.expressions.textOf(`r.${name}`, shownType(column)));
      }
      case null: {
        const { type } = node;
        const selected = { selected: [`${value} AS ${name}`], groups: [name] };
        if (stored !== null && !stored.stored.isOrdered)
          return {
            ...selected,
            orders: columnKind(stored.field as StoredField).sortKey(name, stored.field as StoredField),
            shown: stored.stored.seen(`r.${name}`),
          };
        if (type.kind === 'choice') {
          // Choices are sorted in the order in which the builder wrote them.
          const orders = `array_position(ARRAY[${type.labels.map(literal).join(', ')}]::text[], ${name})`;
          return { ...selected, orders, shown: `r.${name}` };
        }
        const shown = type.kind === 'boolean' ? `r.${name}` : isStoredNumber ? `r.${name}::text` : this.expressions.textOf(`r.${name}`, type);
        return { ...selected, orders: name, shown };
      }
      default:
        return summary satisfies never;
    }
  }

  /** The rows without their order, with the SQL of each column. */
  private base(): { readonly text: string; readonly columns: readonly ColumnSql[]; readonly ties: readonly string[] } {
    const { query } = this.restricted;
    const table = tableOf(this.design, query.table);
    const row = rowOf('t', table.id);
    const columns = query.columns.map((column, i) => this.column(column, i, row));
    const where = this.condition(query.where, table, row);
    const selected = columns.flatMap((column) => column.selected);
    const from = `FROM ${this.from(table, row)}${where === 'true' ? '' : ` WHERE ${where}`}`;
    if (!this.isSummedUp) return { text: `SELECT ${['t.id', ...selected].join(', ')} ${from}`, columns, ties: ['id'] };
    const groups = columns.flatMap((column) => column.groups);
    // Places in the selection: a parameter that stands twice would else not count as the same expression.
    const places = groups.map((group) => selected.findIndex((each) => each.endsWith(` AS ${group}`)) + 1);
    return { text: `SELECT ${selected.join(', ')} ${from}${places.length === 0 ? '' : ` GROUP BY ${places.join(', ')}`}`, columns, ties: groups };
  }

  /** The rows in an order that is total: that asked for, then by what no two rows share. */
  private ordered(order: readonly QueryOrder[], columns: readonly ColumnSql[], ties: readonly string[]): string {
    const orders = order.flatMap(({ column, direction }) => {
      const by = columns[this.restricted.query.columns.findIndex((each) => each.id === column)]?.orders;
      return by === undefined ? [] : [`${by} ${direction === 'up' ? 'ASC' : 'DESC'} NULLS LAST`];
    });
    const all = [...orders, ...ties.map((tie) => `${tie} ASC`)];
    return all.length === 0 ? '' : ` ORDER BY ${all.join(', ')}`;
  }

  /** All rows of the result, without an order but no more than the query asks for: what is selected, without its alias. */
  private all(): { readonly text: string; readonly columns: readonly ColumnSql[]; readonly ties: readonly string[] } {
    const { query } = this.restricted;
    const base = this.base();
    if (query.limit === null) return base;
    // Which rows they are is only a matter of the query's own order when it has a limit of its own.
    const most = this.sql.param(query.limit, 'integer');
    return { ...base, text: `SELECT * FROM (${base.text}) AS asked${this.ordered(query.order, base.columns, base.ties)} LIMIT ${most}` };
  }

  /** The conditions of what is picked, of rows `r`. @param except a column that they leave alone */
  private picks({ search, narrowed }: PickedRows, columns: readonly ColumnSql[], except: string | null = null): string {
    const asked = this.restricted.query.columns;
    // Dates and truths are shown in the words of each person: those are not searched.
    const texts = asked.flatMap((column, i) => {
      const { kind } = shownType(column);
      return kind === 'record' ? [`r.c${i}n`] : kind === 'string' || kind === 'choice' || kind === 'number' ? [`r.c${i}::text`] : [];
    });
    const found = wordsOf(search).map((word) => {
      const pattern = this.sql.param(containing(word), 'text');
      return texts.length === 0 ? 'false' : `(${texts.map((text) => `${text} ILIKE ${pattern}`).join(' OR ')})`;
    });
    const narrow = narrowed.flatMap((each) => (each.column === except ? [] : this.isOneOf(each, columns)));
    const conditions = [...found, ...narrow];
    return conditions.length === 0 ? '' : ` WHERE ${conditions.join(' AND ')}`;
  }

  /** That a row `r` shows one of some values in a column, or one of some days; nothing where there is no such column. */
  private isOneOf(narrowing: ColumnNarrowing, columns: readonly ColumnSql[]): readonly string[] {
    const asked = this.restricted.query.columns;
    const i = asked.findIndex((each) => each.id === narrowing.column);
    const [column, sql] = [asked[i], columns[i]];
    if (column === undefined || sql === undefined) return [];
    const { kind } = shownType(column);
    if (!('values' in narrowing)) {
      if (!dayTypes.has(kind)) return [];
      const day = this.day(kind, i);
      return [`(${day} >= ${this.sql.param(narrowing.from, 'date')} AND ${day} < ${this.sql.param(narrowing.before, 'date')})`];
    }
    const { values } = narrowing;
    const shown = kind === 'record' ? `r.c${i}::text` : dayTypes.has(kind) ? `${this.month(kind, i)}::text` : `(${sql.shown})::text`;
    const given = values.flatMap((value) => (value === null ? [] : [this.sql.param(String(value), 'text')]));
    const parts = [...(given.length === 0 ? [] : [`${shown} IN (${given.join(', ')})`]), ...(values.includes(null) ? [`r.c${i} IS NULL`] : [])];
    return [`(${parts.join(' OR ')})`];
  }

  /** The day that a row `r` shows in a column of days, on the clocks of the app. */
  private day(kind: string, index: number): string {
    return kind === 'date' ? `r.c${index}::date` : `(r.c${index} AT TIME ZONE ${this.sql.param(this.restricted.around.zone, 'text')})::date`;
  }
  /** The first day of its month. */
  private month(kind: string, index: number): string {
    return `date_trunc('month', ${this.day(kind, index)})::date`;
  }

  /**
   * Rows of `id` (null where rows are summarised) and one entry per column in `cells`, in the order asked for; with
   * `arranged` those same rows in another order.
   */
  rows({ limit, arranged = [], longest = null, withDrawings = false, picked = everyRow, skip = 0 }: RowsRead): Statement {
    const { query } = this.restricted;
    const { text, columns, ties } = this.all();
    const order = this.ordered([...arranged, ...query.order], columns, ties);
    const after = skip === 0 ? '' : ` OFFSET ${this.sql.param(skip, 'integer')}`;
    const inner = `SELECT * FROM (${text}) AS r${this.picks(picked, columns)}${order} LIMIT ${this.sql.param(limit, 'integer')}${after}`;
    const numbered = `SELECT n.*, row_number() OVER () AS __place FROM (${inner}) AS n`;
    const shown = columns.map((column, i) => {
      const asked = query.columns[i];
      if (withDrawings && asked !== undefined && isDrawn(asked)) return `r.c${i}`;
      const type = asked === undefined ? null : shownType(asked);
      return longest !== null && type?.kind === 'string' ? shortened(column.shown, longest) : column.shown;
    });
    const cells = `jsonb_build_array(${shown.join(', ')})`;
    return this.sql.done(`SELECT ${this.isSummedUp ? 'NULL' : 'r.id'} AS id, ${cells} AS cells FROM (${numbered}) AS r ORDER BY r.__place`);
  }

  /** One row: `count`, of the rows, and `totals` of their columns, counted by the database and not from rows that were read. */
  totals(asked: readonly AskedTotal[], picked: PickedRows): Statement {
    const { text, columns } = this.all();
    const totals = asked.map(({ column, summary }) => this.total(column, summary));
    return this.sql.done(`SELECT count(*)::float8 AS count, ARRAY[${totals.join(', ')}]::text[] AS totals FROM (${text}) AS r${this.picks(picked, columns)}`);
  }

  /**
   * Rows of `PickableValue`: what there is to pick by, the most frequent first, one more of each column than are offered. Values
   * that are picked are among them as long as a row has them. Values of a column are counted in the rows that are picked by the
   * others.
   * @param offered the columns to pick by; null: those that have values which rows share
   */
  values(picked: PickedRows, offered: readonly string[] | null): Statement {
    const { columns: asked } = this.restricted.query;
    const { text, columns } = this.all();
    const most = mostPickedValues + 1;
    const counted = asked.flatMap((column, i) => {
      const sql = columns[i];
      const { kind } = shownType(column);
      const isPicked = picked.narrowed.some((each) => each.column === column.id);
      if (sql === undefined || !pickedTypes.has(kind) || (offered !== null && !offered.includes(column.id) && !isPicked)) return [];
      const shared = (sql.groups.length === 0 ? [`c${i}`] : sql.groups).map((name) => `r.${name}`).join(', ');
      const different = (rows: string): string => `(SELECT count(*)::float8 FROM (SELECT FROM ${rows} AS r GROUP BY ${shared} LIMIT ${most}) AS v)`;
      // Texts that are all different are most often so in their first rows: then the others need not be looked at.
      const few = different(`(SELECT * FROM asked LIMIT ${mostSampled})`);
      const all = kind === 'string' ? `CASE WHEN ${few} < ${most} THEN ${different('asked')} ELSE ${most} END` : different('asked');
      const asksFor = kind === 'string' && offered === null ? ` WHERE d.different < ${most}` : '';
      const own = picked.narrowed.filter((each) => each.column === column.id);
      const first = own.flatMap((each) => this.isOneOf(each, columns).map((isOne) => `${isOne} DESC NULLS LAST, `)).join('');
      const room = most + valuesPicked(own, column.id).length;
      const grouped = `SELECT ${shared}, count(*)::float8 AS count FROM asked AS r${this.picks(picked, columns, column.id)} GROUP BY ${shared} ORDER BY ${first}count DESC, ${shared} LIMIT ${room}`;
      const values = `SELECT to_jsonb(${sql.shown}) AS value, r.count FROM (${grouped}) AS r${asksFor}`;
      const id = this.sql.param(column.id, 'text');
      return [
        `(SELECT ${id} AS column, g.value, g.count, d.different, t.rows FROM total AS t CROSS JOIN (SELECT ${all} AS different) AS d LEFT JOIN LATERAL (${values}) AS g ON true ORDER BY g.count DESC, g.value)`,
      ];
    });
    // A query without any such column gives no rows.
    if (counted.length === 0) return this.sql.done('SELECT WHERE false');
    return this.sql.done(`WITH asked AS MATERIALIZED (${text}), total AS (SELECT count(*)::float8 AS rows FROM asked) ${counted.join(' UNION ALL ')}`);
  }

  /** Rows of `ResultGroup`, level by level: all rows, then those that share a value in the first column, in the first two, and so on. */
  groups(by: readonly string[], totals: readonly AskedTotal[], picked: PickedRows, most: number): Statement {
    const { text, columns } = this.all();
    const asked = this.restricted.query.columns;
    const months: string[] = [];
    const shared = by.flatMap((id) => {
      const index = asked.findIndex((each) => each.id === id);
      const [column, sql] = [asked[index], columns[index]];
      if (column === undefined || sql === undefined) return [];
      const { kind } = shownType(column);
      if (!dayTypes.has(kind)) return [{ ...sql, names: (sql.groups.length === 0 ? [`c${index}`] : sql.groups).map((name) => `r.${name}`) }];
      const month = `c${index}_month`;
      months.push(`${this.month(kind, index)} AS ${month}`);
      return [{ orders: month, shown: `r.${month}::text`, names: [`r.${month}`] }];
    });
    const rows = months.length === 0 ? text : `SELECT r.*, ${months.join(', ')} FROM (${text}) AS r`;
    const sums = `ARRAY[${totals.map(({ column, summary }) => this.total(column, summary)).join(', ')}]::text[] AS sums`;
    const upTo = (depth: number): typeof shared => shared.slice(0, depth);
    const depths = Array.from({ length: shared.length + 1 }, (_, depth) => depth);
    // One look at the rows for all levels; how deep a group is, is told by the columns that it does not leave together.
    const sets = depths.map(
      (depth) =>
        `(${upTo(depth)
          .flatMap((each) => each.names)
          .join(', ')})`,
    );
    const depth = ['0', ...shared.map(({ names: [name = ''] }) => `1 - GROUPING(${name})`)].join(' + ');
    const selected = [...shared.flatMap((each) => each.names), `${depth} AS depth`, 'count(*)::float8 AS count', sums].join(', ');
    const grouped = `SELECT ${selected} FROM (${rows}) AS r${this.picks(picked, columns)} GROUP BY GROUPING SETS (${sets.join(', ')})`;
    const order = shared.flatMap((each) => [`${each.orders} NULLS LAST`, ...each.names]);
    const placed = `SELECT r.*, row_number() OVER (${['PARTITION BY r.depth', ...(order.length === 0 ? [] : [`ORDER BY ${order.join(', ')}`])].join(' ')}) AS place FROM (${grouped}) AS r`;
    const values = depths.map((each) => {
      const shown = upTo(each).map((column) => column.shown);
      return `WHEN ${each} THEN jsonb_build_array(${shown.join(', ')})`;
    });
    return this.sql.done(
      `SELECT r.depth, CASE r.depth ${values.join(' ')} END AS values, r.count, r.sums FROM (${placed}) AS r WHERE r.place <= ${this.sql.param(most, 'integer')} ORDER BY r.depth, r.place`,
    );
  }

  private total(id: string, summary: Summary): string {
    const index = this.restricted.query.columns.findIndex((each) => each.id === id);
    const column = this.restricted.query.columns[index];
    if (column === undefined) throw new TypeError(`The rows have no column ${id}`);
    const value = `r.c${index}`;
    const type = shownType(column);
    if (!canTotal(type, summary)) return 'NULL';
    switch (summary) {
      case 'count':
        return `count(${value})::text`;
      case 'sum':
        return `trim_scale(sum(${value})::numeric)::text`;
      case 'average':
        return `trim_scale(feel.divide(sum(${value})::numeric, count(${value})::numeric))::text`;
      case 'smallest':
      case 'largest': {
        const found = `${summary === 'smallest' ? 'min' : 'max'}(${value}${collation(type)})`;
        return this.expressions.textOf(type.kind === 'number' ? `${found}::numeric` : found, type);
      }
      default:
        return summary satisfies never;
    }
  }

  /** One row: `counts`, of the grain, after each step, and of the result before its limit. */
  ledger(): Statement {
    const { query } = this.restricted;
    const table = tableOf(this.design, query.table);
    const row = rowOf('l', table.id);
    const parts = query.steps.map((step) => this.expressions.condition(step, row));
    const counts = parts.map((_, i) => `count(*) FILTER (WHERE ${parts.slice(0, i + 1).join(' AND ')})::float8`);
    const from = `FROM ${this.from(table, row)}`;
    const result = this.isSummedUp ? `(SELECT count(*)::float8 FROM (${this.base().text}) AS asked)` : (counts.at(-1) ?? 'count(*)::float8');
    return this.sql.done(`SELECT ARRAY[${['count(*)::float8', ...counts, result].join(', ')}] AS counts ${from}`);
  }
}

// So many rows tell whether there are more different texts than are offered.
const mostSampled = 1000;

const shortened = (text: string, longest: number): string => `CASE WHEN length(${text}) > ${longest} THEN left(${text}, ${longest}) || '…' ELSE ${text} END`;

const plain = (name: string, sql: string, shown: string): ColumnSql => ({ selected: [`${sql} AS ${name}`], groups: [], orders: name, shown });

type Source = readonly [restricted: RestrictedQuery<AskedQuery>, design: AppDesign, schema: string];
/** Rows of `id` and `cells`. At most `limit`, and no more than the query itself asks for; texts no longer than `longest`, with an ellipsis. */
export const compileResult = (source: Source, read: Omit<RowsRead, 'withDrawings'>): Statement => new ResultCompiler(...source).rows(read);
/** The same with drawings as a whole. */
export const compilePaper = (source: Source, read: Omit<RowsRead, 'withDrawings'>): Statement =>
  new ResultCompiler(...source).rows({ ...read, withDrawings: true });
/** One row of `count` and `totals`. A sum or average is asked of columns of numbers alone. */
export const compileTotals = (source: Source, asked: readonly AskedTotal[], picked = everyRow): Statement =>
  new ResultCompiler(...source).totals(asked, picked);
/** A value of a column by which rows can be picked. */
export interface PickableValue {
  readonly column: string;
  readonly value: Value;
  /** How many of the rows that are picked by other columns have it; null: those have none. */
  readonly count: number | null;
  /** Of all rows, whatever is picked: how many values are different, counted no further than one more than are offered. */
  readonly different: number;
  readonly rows: number;
}
/** Rows of `PickableValue`, of columns that are offered; null: of those that have values which rows share. */
export const compilePickable = (source: Source, picked: PickedRows, offered: readonly string[] | null = null): Statement =>
  new ResultCompiler(...source).values(picked, offered);
/** Rows that share values: so many columns, their values, how many rows there are and what the totals are of these. */
export interface ResultGroup {
  readonly depth: number;
  readonly values: readonly Value[];
  readonly count: number;
  readonly sums: readonly (string | null)[];
}
/** Rows of `ResultGroup`, of each level at most `most`. @param by columns that `canGroupBy` */
export const compileResultGroups = (source: Source, by: readonly string[], totals: readonly AskedTotal[], picked: PickedRows, most: number): Statement =>
  new ResultCompiler(...source).groups(by, totals, picked, most);
/** Whether rows can share a value of such a column: a year, say, or a number of jars. */
export const canGroupBy = (type: string): boolean => pickedTypes.has(type) || dayTypes.has(type) || type === 'number';
/** One row with the `counts` that `ledgerOf` reads. */
export const compileLedger = (...source: Source): Statement => new ResultCompiler(...source).ledger();
