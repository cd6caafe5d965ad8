/** What a part of an expression becomes in SQL. Only scalars are ever seen outside; the rest lives while compiling. */
import { ident, type SqlBuilder } from '../sql/sql.js';
import { writeDay } from './calendar.js';
import { dayOfMoment } from './moments.js';
import type { Stored } from './stored.js';

/** The joins that belong to one row source: a reference that is walked twice is joined once. */
export class RowScope {
  readonly joins: string[] = [];
  readonly walked = new Map<string, SqlRecord>();
}

export interface SqlScalar {
  readonly kind: 'scalar';
  readonly sql: string;
  /** Set when `sql` is a bare column that the language sees otherwise than it is stored: a bigint as number, an id as a label. */
  readonly stored?: Stored;
  /** Set when it is a text that stands written out in the expression. */
  readonly written?: string;
}
export interface SqlRecord {
  readonly kind: 'record';
  readonly alias: string;
  readonly table: string;
  readonly scope: RowScope;
}
export interface SqlRange {
  readonly kind: 'range';
  readonly low: SqlValue;
  readonly high: SqlValue;
  readonly lowIncluded: boolean;
  readonly highIncluded: boolean;
}
export interface SqlContext {
  readonly kind: 'context';
  readonly entries: Readonly<Record<string, SqlValue>>;
}
export type SqlValue = SqlScalar | SqlRecord | SqlRange | SqlContext | SqlList;

/** A list, as the rows of a subquery that is not written yet: filters and joins still gather. */
export class SqlList {
  readonly kind = 'list';
  readonly where: string[] = [];

  constructor(
    readonly source: string,
    readonly scope: RowScope,
    /** One element, in terms of the source's aliases. */
    readonly value: SqlValue,
    readonly order: string,
    /** The condition under which there is a list at all rather than null; null: always. */
    readonly exists: string | null,
  ) {}

  with(value: SqlValue): SqlList {
    const list = new SqlList(this.source, this.scope, value, this.order, this.exists);
    list.where.push(...this.where);
    return list;
  }
  narrowed(condition: string): SqlList {
    const list = this.with(this.value);
    list.where.push(condition);
    return list;
  }
  /** `SELECT what FROM …` with all that has gathered. */
  select(what: string): string {
    const where = this.where.filter((each) => each !== 'true');
    return `SELECT ${what} FROM ${[this.source, ...this.scope.joins].join(' ')}${where.length === 0 ? '' : ` WHERE ${where.join(' AND ')}`}`;
  }
  /** A scalar subquery over the rows, or nothing when there is no list. */
  whenThere(scalarQuery: string): string {
    return this.exists === null ? `(${scalarQuery})` : `(CASE WHEN ${this.exists} THEN (${scalarQuery}) END)`;
  }
}

/** What the functions of the language can use to write their SQL. */
export class SqlTools {
  private aliases = 0;
  constructor(
    readonly builder: SqlBuilder,
    readonly prefix: string,
    private readonly timeZone: string,
    readonly now: number,
    /** The number of the person who asks; -1, which no person has, where nobody asks. */
    readonly person: number,
  ) {}

  alias(): string {
    this.aliases += 1;
    return `${this.prefix}${this.aliases}`;
  }
  param(value: unknown, cast: string): string {
    return this.builder.param(value, cast);
  }
  /** The date that the calendar of the app shows, as PostgreSQL reads it. */
  get today(): string | null {
    const day = dayOfMoment({ kind: 'date and time', ms: this.now }, this.timeZone);
    return day === null ? null : writeDay(day);
  }
  private zoneParam: string | null = null;
  get zone(): string {
    return (this.zoneParam ??= this.param(this.timeZone, 'text'));
  }

  /** The value as the language sees it: numbers as numeric, choices as their labels, a record as its id. */
  plain(value: SqlValue): string {
    if (value.kind === 'record') return `${value.alias}.id`;
    if (value.kind !== 'scalar') throw new TypeError(`A ${value.kind} is no scalar`);
    return value.stored === undefined ? value.sql : value.stored.seen(value.sql);
  }

  list(value: SqlValue): SqlList {
    if (value.kind !== 'list') throw new TypeError(`A ${value.kind} is no list`);
    return value;
  }

  /** Scalars of a type of PostgreSQL written out as a list. */
  written(values: readonly string[], type: string): SqlList {
    const alias = this.alias();
    const rows =
      values.length === 0
        ? `(SELECT NULL::${type} AS v, 0 AS o WHERE false) AS ${alias}`
        : `(VALUES ${values.map((value, i) => `(${value}, ${i + 1})`).join(', ')}) AS ${alias}(v, o)`;
    return new SqlList(rows, new RowScope(), scalar(`${alias}.v`), `${alias}.o`, null);
  }

  /** Columns that carry an element through a derived table, and how to read it on the other side. */
  carry(value: SqlValue): { readonly columns: string; readonly read: (alias: string, scope: RowScope) => SqlValue } {
    if (value.kind === 'record') return { columns: `${value.alias}.*`, read: (alias, scope) => ({ kind: 'record', alias, table: value.table, scope }) };
    if (value.kind === 'context') {
      const parts = Object.entries(value.entries).map(([name, entry], i) => ({ name, sql: this.plain(entry), column: `c${i}` }));
      return {
        columns: parts.map((part) => `${part.sql} AS ${part.column}`).join(', '),
        read: (alias) => ({
          kind: 'context',
          entries: Object.fromEntries(parts.map((part) => [part.name, { kind: 'scalar', sql: `${alias}.${part.column}` } satisfies SqlValue])),
        }),
      };
    }
    return { columns: `${this.plain(value)} AS v`, read: (alias) => ({ kind: 'scalar', sql: `${alias}.v` }) };
  }

  /**
   * The elements folded by an aggregate of `v`. They are computed in a subquery of their own: an aggregate over values of
   * the outer row alone would count as one of the outer query.
   */
  fold(list: SqlList, aggregate: (v: string) => string): string {
    const alias = this.alias();
    return list.whenThere(`SELECT ${aggregate(`${alias}.v`)} FROM (${list.select(`${this.plain(list.value)} AS v`)}) AS ${alias}`);
  }

  /** The list as a derived table with its places counted from 1 in the column `o`, so that places can be asked for. */
  placed(list: SqlList, order = list.order): { readonly list: SqlList; readonly alias: string } {
    const { columns, read } = this.carry(list.value);
    const alias = this.alias();
    const scope = new RowScope();
    const inner = list.select(`${columns}, row_number() OVER (ORDER BY ${order}) AS o`);
    return { alias, list: new SqlList(`(${inner}) AS ${alias}`, scope, read(alias, scope), `${alias}.o`, list.exists) };
  }
}

export const scalar = (sql: string): SqlScalar => ({ kind: 'scalar', sql });
export const columnOf = (alias: string, column: string): string => `${alias}.${ident(column)}`;
