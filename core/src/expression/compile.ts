/**
 * A checked expression as SQL. Values travel as parameters, every table is the part of it that the person can see, and
 * nothing raises on data: PostgreSQL can compute a part for a row before the rule beside it has left the row out.
 */
import type { Field, TableId, Tie } from '../design/design.js';
import { relationshipOf, tableOf } from '../design/read.js';
import { kindOf, partsOfField } from '../fields/kinds.js';
import { textSql } from '../feel/functions/conversions.js';
import { constantSql, seriesSql, sqlType } from '../feel/sql-constant.js';
import { everySql, someSql } from '../feel/three-valued.js';
import { collation } from '../feel/functions/ranges.js';
import type { BoundList, Node, Variable } from './node.js';
import { firstDay, periodStart } from './period-start.js';
import type { SqlSurroundings } from './sql-surroundings.js';
import { partSql } from '../feel/date-parts.js';
import { columnOf, RowScope, scalar, SqlList, SqlTools, type SqlRecord, type SqlScalar, type SqlValue } from '../feel/sql-value.js';
import type { Stored } from '../feel/stored.js';
import type { Type } from '../feel/types.js';

/** The row that expressions speak of. Its joins belong behind the FROM item that has the alias. */
export const rowOf = (alias: string, table: TableId): SqlRecord => ({ kind: 'record', alias, table, scope: new RowScope() });

/** Compiles the expressions of one statement. Those over the same row share its joins. */
export class ExpressionCompiler {
  private readonly tools: SqlTools;

  constructor(private readonly around: SqlSurroundings) {
    this.tools = new SqlTools(around.builder, around.prefix, around.zone, around.now, around.person ?? -1);
  }

  /** A value of the type of the node, null where the language says null; a number is numeric, a choice its label. */
  value(node: Node, row: SqlRecord | null): string {
    return this.tools.plain(new Compilation(this.around, this.tools, row).of(node));
  }
  /** The value as a text that can be read back: null where it is null. */
  text(node: Node, row: SqlRecord | null): string {
    return textSql(this.value(node, row), node.type, this.tools);
  }
  /** The record that a node of a record's type stands for. */
  record(node: Node, row: SqlRecord): SqlRecord {
    const value = new Compilation(this.around, this.tools, row).of(node);
    if (value.kind !== 'record') throw new TypeError(`A ${value.kind} is no record`);
    return value;
  }
  /** The column itself where the node is no more than that and the language sees it otherwise than it is stored, else null. */
  column(node: Node, row: SqlRecord): { readonly sql: string; readonly field: Field; readonly stored: Stored } | null {
    if (node.kind !== 'field') return null;
    const value = new Compilation(this.around, this.tools, row).of(node);
    return value.kind === 'scalar' && value.stored !== undefined ? { sql: value.sql, field: node.field, stored: value.stored } : null;
  }
  /** A value that is in `sql`, as `value` gives it, as a text. */
  textOf(sql: string, type: Type): string {
    return textSql(sql, type, this.tools);
  }
  /** The record that a reference leads to, joined to the row once however often it is walked. */
  parent(row: SqlRecord, field: Field, table: TableId): SqlRecord {
    return new Compilation(this.around, this.tools, row).parent(row, field, table);
  }
  /** A condition for WHERE, where unknown and false are the same: in this form it can use an index. */
  condition(node: Node, row: SqlRecord | null): string {
    return new Compilation(this.around, this.tools, row).filter(node);
  }
}

class Compilation {
  private readonly variables = new Map<Variable, SqlValue>();

  constructor(
    private readonly around: SqlSurroundings,
    private readonly tools: SqlTools,
    private readonly self: SqlRecord | null,
    /** The row source beside which further rows can be joined. */
    private scope: RowScope | null = self?.scope ?? null,
  ) {}

  private plain(node: Node): string {
    return this.tools.plain(this.of(node));
  }
  private list(node: Node): SqlList {
    return this.tools.list(this.of(node));
  }

  of(node: Node): SqlValue {
    switch (node.kind) {
      case 'constant':
        return constantSql(this.tools, node.value, node.type);
      case 'self':
        if (this.self === null) throw new TypeError('There is no record here');
        return this.self;
      case 'me': {
        const value = this.around.me[node.entry];
        if (typeof value === 'string') return scalar(this.tools.param(value, 'text'));
        return this.tools.written(
          value.map((each) => this.tools.param(each, 'text')),
          'text',
        );
      }
      case 'tied':
        return this.tied(node.tie);
      case 'variable': {
        const value = this.variables.get(node.variable);
        if (value === undefined) throw new TypeError('A variable without a value');
        return value;
      }
      case 'field': {
        const record = this.record(node.of);
        const sql = columnOf(record.alias, node.field.column);
        const elements = kindOf(node.field).column?.elements?.(node.field);
        if (elements !== undefined) {
          const alias = this.tools.alias();
          const there = node.of.kind === 'self' && record === this.self ? null : `${record.alias}.id IS NOT NULL`;
          return new SqlList(
            `${elements.rows(sql)} WITH ORDINALITY AS ${alias}(v, o)`,
            new RowScope(),
            scalar(elements.seen(`${alias}.v`)),
            `${alias}.o`,
            there,
          );
        }
        const stored = kindOf(node.field).column?.stored?.(node.field);
        return stored === undefined ? scalar(sql) : { kind: 'scalar', sql, stored };
      }
      case 'parent':
        return this.parent(this.record(node.of), node.field, node.table);
      case 'children':
        return this.children(node);
      case 'formula':
        return this.formula(node, (inner) => this.tools.plain(inner.of(node.body)));
      case 'entry': {
        const of = this.of(node.of);
        return (of.kind === 'context' ? of.entries[node.name] : undefined) ?? scalar('NULL');
      }
      case 'within': {
        const { of, field } = node.of;
        return scalar(partsOfField(field)[node.part]?.sql(columnOf(this.record(of).alias, field.column)) ?? 'NULL');
      }
      case 'part':
        return partSql(this.of(node.of), node.of.type, node.part, this.tools);
      case 'project': {
        const list = this.list(node.of);
        return list.with(this.bound(node.variable, list.value, list.scope, () => this.of(node.body)));
      }
      case 'filter': {
        const list = this.list(node.of);
        return list.narrowed(this.bound(node.variable, list.value, list.scope, () => this.filter(node.by)));
      }
      case 'index':
        return this.element(this.list(node.of), this.plain(node.by));
      case 'sort': {
        const list = this.list(node.of);
        const by = this.bound(node.variable, list.value, list.scope, () => this.plain(node.by));
        const sorted = new SqlList(
          list.source,
          list.scope,
          list.value,
          `${by}${collation(node.by.type)} ${node.descending ? 'DESC' : 'ASC'} NULLS LAST, ${list.order}`,
          list.exists,
        );
        sorted.where.push(...list.where);
        return sorted;
      }
      case 'call': {
        const start = periodStart(node);
        if (start !== null) return scalar(firstDay(this.plain(start.of), start.period));
        return node.builtIn.sql(
          node.args.map((arg) => this.of(arg)),
          this.tools,
          node.args.map((arg) => arg.type),
        );
      }
      case 'arithmetic':
        return scalar(node.way.sql(this.plain(node.left), this.plain(node.right), this.tools));
      case 'negative':
        return scalar(`(- ${this.plain(node.of)})`);
      case 'compare':
        return scalar(this.compare(node, false));
      case 'and':
      case 'or':
        return scalar(`(${node.of.map((each) => this.plain(each)).join(node.kind === 'and' ? ' AND ' : ' OR ')})`);
      case 'if':
        return scalar(`(CASE WHEN ${this.filter(node.condition)} THEN ${this.cast(node.then, node.type)} ELSE ${this.cast(node.otherwise, node.type)} END)`);
      case 'for':
        return this.rounds(node.bindings, (list) => list.with(this.of(node.body)));
      case 'some':
      case 'every': {
        const list = this.rounds(node.bindings, (inner) => inner.with(this.of(node.body)));
        return scalar(this.tools.fold(list, node.kind === 'some' ? someSql : everySql));
      }
      case 'series':
        return seriesSql(this.tools, this.plain(node.low), this.plain(node.high));
      case 'list':
        return this.tools.written(
          node.items.map((item) => this.cast(item, node.type.kind === 'list' ? node.type.of : item.type)),
          sqlType(node.type.kind === 'list' ? node.type.of : node.type),
        );
      case 'range':
        return { kind: 'range', low: this.of(node.low), high: this.of(node.high), lowIncluded: node.lowIncluded, highIncluded: node.highIncluded };
      case 'context':
        return { kind: 'context', entries: Object.fromEntries(Object.entries(node.entries).map(([name, each]) => [name, this.of(each)])) };
      default:
        return node satisfies never;
    }
  }

  /** A truth of which only "true" counts. */
  filter(node: Node): string {
    switch (node.kind) {
      case 'and':
      case 'or':
        return `(${node.of.map((each) => this.filter(each)).join(node.kind === 'and' ? ' AND ' : ' OR ')})`;
      case 'compare':
        return this.compare(node, true);
      case 'some': {
        const list = this.rounds(node.bindings, (inner) => inner.narrowed(this.filter(node.body)));
        return `EXISTS (${list.select('1')})`;
      }
      case 'formula':
        return this.formula(node, (inner) => inner.filter(node.body)).sql;
      default:
        return this.plain(node);
    }
  }

  /** Works with a variable bound to an element of a list; joins that come up are beside the rows of that list. */
  private bound<T>(variable: Variable, value: SqlValue, scope: RowScope, work: () => T): T {
    const outer = this.scope;
    this.variables.set(variable, value);
    this.scope = scope;
    const result = work();
    this.scope = outer;
    return result;
  }
  /** A formula of a record that was walked to: nothing when there is no such record. */
  private formula(node: Extract<Node, { kind: 'formula' }>, compile: (inner: Compilation) => string): SqlScalar {
    const record = this.record(node.of);
    const sight = this.sight(record.table, node.field);
    if (sight === 'never') return scalar(`NULL::${sqlType(node.type)}`);
    const value = compile(new Compilation(this.around, this.tools, record, this.scope));
    if (sight !== 'always') return scalar(`(CASE WHEN ${columnOf(record.alias, sight.column)} THEN ${value} END)`);
    return scalar(node.of.kind === 'self' ? value : `(CASE WHEN ${record.alias}.id IS NOT NULL THEN ${value} END)`);
  }
  private record(node: Node): SqlRecord {
    const value = this.of(node);
    if (value.kind !== 'record') throw new TypeError(`A ${value.kind} is no record`);
    return value;
  }
  /** A null that is alone has no type of its own. */
  private cast(node: Node, type: Type): string {
    return node.type.kind === 'null' ? `NULL::${sqlType(type)}` : this.plain(node);
  }

  parent(of: SqlRecord, field: Field, table: TableId): SqlRecord {
    const key = `${of.alias} ${field.id}`;
    const known = of.scope.walked.get(key);
    if (known !== undefined) return known;
    const record: SqlRecord = { kind: 'record', alias: this.tools.alias(), table, scope: of.scope };
    of.scope.joins.push(`LEFT JOIN ${this.around.visible(table)} AS ${record.alias} ON ${record.alias}.id = ${columnOf(of.alias, field.column)}`);
    of.scope.walked.set(key, record);
    return record;
  }

  private sight(table: TableId, field: Field): 'always' | 'never' | { readonly column: string } {
    return this.around.sight?.(table, field) ?? 'always';
  }
  private tied(tie: Tie): SqlRecord {
    if (this.scope === null) throw new TypeError('An expression over rows is compiled without a row');
    const key = `tied ${tie.id}`;
    const known = this.scope.walked.get(key);
    if (known !== undefined) return known;
    const record: SqlRecord = { kind: 'record', alias: this.tools.alias(), table: tie.table, scope: this.scope };
    this.scope.joins.push(`LEFT JOIN ${this.around.visible(tie.table)} AS ${record.alias} ON ${record.alias}.id = ${this.tiedId(tie)}`);
    this.scope.walked.set(key, record);
    return record;
  }
  private tiedId(tie: Tie): string {
    return this.tools.param(this.around.ties?.[tie.id] ?? null, 'bigint');
  }

  /** The id of a record, without a join where every record is visible. */
  private identity(node: Node): string {
    if (this.around.seesAll !== true) return this.plain(node);
    if (node.kind === 'tied') return this.tiedId(node.tie);
    if (node.kind !== 'parent') return this.plain(node);
    return columnOf(this.record(node.of).alias, node.field.column);
  }

  private children(node: Extract<Node, { kind: 'children' }>): SqlList {
    const of = this.record(node.of);
    const { child, field } = relationshipOf(this.around.design, node.relationship.id);
    const column = tableOf(this.around.design, child).fields.find((each) => each.id === field)?.column ?? '';
    const alias = this.tools.alias();
    const scope = new RowScope();
    const record: SqlRecord = { kind: 'record', alias, table: child, scope };
    // Of the record itself there always are children, though maybe none; a record that was walked to might not be there.
    const list = new SqlList(
      `${this.around.visible(child)} AS ${alias}`,
      scope,
      record,
      `${alias}.id`,
      node.of.kind === 'self' && of === this.self ? null : `${of.alias}.id IS NOT NULL`,
    );
    return list.narrowed(`${columnOf(alias, column)} = ${of.alias}.id`);
  }

  private rounds(bindings: readonly BoundList[], body: (list: SqlList) => SqlList): SqlList {
    const [first, ...rest] = bindings;
    if (first === undefined) throw new TypeError('Nothing to go through');
    const list = this.list(first.over);
    return this.bound(first.variable, list.value, list.scope, () => this.further(list, rest, body));
  }

  /** Lists within lists: the inner one is a lateral subquery over the aliases of the outer. */
  private further(list: SqlList, [next, ...rest]: readonly BoundList[], body: (list: SqlList) => SqlList): SqlList {
    if (next === undefined) return body(list);
    const inner = this.list(next.over);
    const { list: placed, alias } = this.tools.placed(inner);
    const exists = inner.exists === null ? '' : ` AND ${inner.exists}`;
    list.scope.joins.push(`JOIN LATERAL ${placed.source} ON true${exists}`);
    const value = placed.value.kind === 'record' ? { ...placed.value, scope: list.scope } : placed.value;
    const both = new SqlList(list.source, list.scope, value, `${list.order}, ${alias}.o`, list.exists);
    both.where.push(...list.where);
    return this.bound(next.variable, value, list.scope, () => this.further(both, rest, body));
  }

  private element(list: SqlList, place: string): SqlValue {
    const { list: placed, alias } = this.tools.placed(list);
    const size = `(${list.select('count(*)')})`;
    const at = `CASE WHEN ${place} < 0 THEN ${size} + ${place} + 1 ELSE ${place} END`;
    const parent = placed.narrowed(`${alias}.o = ${at}`);
    const { value } = placed;
    if (value.kind !== 'record') return scalar(parent.whenThere(parent.select(this.tools.plain(value))));
    // A record is joined sideways to the row that asks for it, so that one can walk on from it.
    const owner = this.scope;
    if (owner === null) throw new TypeError('A record of a list is compiled without a row');
    const taken = this.tools.alias();
    owner.joins.push(`LEFT JOIN LATERAL (${parent.select(`${alias}.*`)}) AS ${taken} ON true`);
    return { kind: 'record', alias: taken, table: value.table, scope: owner };
  }

  private compare(node: Extract<Node, { kind: 'compare' }>, counts: boolean): string {
    const { op, left, right } = node;
    const empty = [left, right].findIndex((each) => each.type.kind === 'null');
    if (empty >= 0) {
      const other = this.plain(empty === 0 ? right : left);
      if (op !== '=' && op !== '!=') return 'NULL::boolean';
      return `(${other} IS ${op === '=' ? '' : 'NOT '}NULL)`;
    }
    const [a, b] = this.comparable(left, right, op);
    if (op === '=' || op === '!=') {
      const sure = this.isSure(left) || this.isSure(right);
      // Where only "true" counts, or neither can be empty, a plain comparison says the same and can use an index.
      if (op === '=') return sure && (counts || (this.isSure(left) && this.isSure(right))) ? `(${a} = ${b})` : `(${a} IS NOT DISTINCT FROM ${b})`;
      return `(${a} IS DISTINCT FROM ${b})`;
    }
    const collate = collation(left.type.kind === 'null' ? right.type : left.type);
    return `(${a}${collate} ${op} ${b}${collate})`;
  }

  /** Both sides, a bare column left as it is wherever the other side can be put into its terms. */
  private comparable(left: Node, right: Node, op: string): readonly [string, string] {
    if (left.type.kind === 'record' && right.type.kind === 'record') return [this.identity(left), this.identity(right)];
    const [a, b] = [this.of(left), this.of(right)];
    const meet = (column: SqlValue, constant: Node): readonly [string, string] | null => {
      if (column.kind !== 'scalar' || column.stored === undefined || constant.kind !== 'constant') return null;
      const stored = column.stored.constant(constant.value, op === '=' || op === '!=');
      return stored === null ? null : [column.sql, this.tools.param(stored.value, stored.type)];
    };
    const straight = meet(a, right);
    if (straight !== null) return straight;
    const turned = meet(b, left);
    if (turned !== null) return [turned[1], turned[0]];
    return [this.tools.plain(a), this.tools.plain(b)];
  }

  /** Whether a value is never null. */
  private isSure(node: Node): boolean {
    if (node.kind === 'constant') return node.value !== null;
    // A rule that speaks of a tie is only asked for people who have it.
    if (node.kind === 'tied') return this.around.seesAll === true;
    return node.kind === 'field' && node.field.required && node.of.kind === 'self' && this.sight(node.of.table, node.field) === 'always';
  }
}
