/** Saved queries as SQL: the rows of their result, and the counts of their ledger. */
import type { AppDesign, StoredField } from '../design/design.js';
import type { QueryOrder, Summary } from '../design/saved-query.js';
import { tableOf } from '../design/read.js';
import { rowOf } from '../expression/compile.js';
import { collation } from '../feel/functions/ranges.js';
import type { SqlRecord } from '../feel/sql-value.js';
import { columnKind } from '../migration/columns.js';
import { literal, type Statement } from '../sql/sql.js';
import { TableCompiler } from './compiler.js';
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
}

class ResultCompiler extends TableCompiler<AskedQuery> {
  private readonly isSummedUp = isSummedUp(this.restricted.query);

  private column(column: AskedColumn, place: number, row: SqlRecord): ColumnSql {
    const name = `c${place}`;
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

  /**
   * Rows of `id` (null where rows are summarised) and one entry per column in `cells`, in the order asked for; with
   * `arranged` those same rows in another order.
   */
  rows({ limit, arranged = [], longest = null, withDrawings = false }: RowsRead): Statement {
    const { query } = this.restricted;
    const { text, columns, ties } = this.base();
    const most = this.sql.param(query.limit === null ? limit : Math.min(limit, query.limit), 'integer');
    // Which rows they are is only a matter of the query's own order when it has a limit of its own.
    const own = query.limit === null && arranged.length > 0 ? [...arranged, ...query.order] : query.order;
    const inner = `SELECT * FROM (${text}) AS asked${this.ordered(own, columns, ties)} LIMIT ${most}`;
    const again = query.limit === null || arranged.length === 0 ? '' : this.ordered([...arranged, ...query.order], columns, ties);
    const numbered = `SELECT n.*, row_number() OVER (${again.trim()}) AS __place FROM (${inner}) AS n`;
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
  totals(asked: readonly AskedTotal[]): Statement {
    const { query } = this.restricted;
    const { text, columns, ties } = this.base();
    const limited =
      query.limit === null
        ? text
        : `SELECT * FROM (${text}) AS asked${this.ordered(query.order, columns, ties)} LIMIT ${this.sql.param(query.limit, 'integer')}`;
    const totals = asked.map(({ column, summary }) => this.total(column, summary));
    return this.sql.done(`SELECT count(*)::float8 AS count, ARRAY[${totals.join(', ')}]::text[] AS totals FROM (${limited}) AS r`);
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

const shortened = (text: string, longest: number): string => `CASE WHEN length(${text}) > ${longest} THEN left(${text}, ${longest}) || '…' ELSE ${text} END`;

const plain = (name: string, sql: string, shown: string): ColumnSql => ({ selected: [`${sql} AS ${name}`], groups: [], orders: name, shown });

type Source = readonly [restricted: RestrictedQuery<AskedQuery>, design: AppDesign, schema: string];
/** Rows of `id` and `cells`. At most `limit`, and no more than the query itself asks for; texts no longer than `longest`, with an ellipsis. */
export const compileResult = (source: Source, limit: number, arranged: readonly QueryOrder[] = [], longest: number | null = null): Statement =>
  new ResultCompiler(...source).rows({ limit, arranged, longest });
/** The same with drawings as a whole. */
export const compilePaper = (source: Source, read: Omit<RowsRead, 'withDrawings'>): Statement =>
  new ResultCompiler(...source).rows({ ...read, withDrawings: true });
/** One row of `count` and `totals`. A sum or average is asked of columns of numbers alone. */
export const compileTotals = (source: Source, asked: readonly AskedTotal[]): Statement => new ResultCompiler(...source).totals(asked);
/** One row with the `counts` that `ledgerOf` reads. */
export const compileLedger = (...source: Source): Statement => new ResultCompiler(...source).ledger();
