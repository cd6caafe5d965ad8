/** What every compiled question is made of: tables as far as they may be seen, conditions, captions. */
import type { AppDesign, Field, Table } from '../design/design.js';
import { fieldOf, linksOf, otherSide, parentOf, relationshipOf, tableOf } from '../design/read.js';
import { check } from '../expression/check.js';
import { ExpressionCompiler, rowOf } from '../expression/compile.js';
import type { Node } from '../expression/node.js';
import type { SqlRecord } from '../feel/sql-value.js';
import { columnType, searchText } from '../migration/columns.js';
import { systemColumns } from '../shapes/slug.js';
import { ident, SqlBuilder } from '../sql/sql.js';
import { isReference, type Value } from '../fields/value.js';
import type { Condition, Question, RestrictedQuery } from './query.js';
import { wants } from '../feel/wants.js';

/** Names the table of an app in its schema. */
export const tableName = (schema: string, table: Table): string => `${ident(schema)}.${ident(table.slug)}`;

/** The words of a text that is searched for, each once. */
export const wordsOf = (text: string): readonly string[] => [...new Set(text.split(/\s+/u).filter((word) => word !== ''))];

/** A text of pg's pattern language that matches `text` itself anywhere. */
export const containing = (text: string): string => `%${startingWith(text)}`;
/** The same for what begins with it. */
export const startingWith = (text: string): string => `${text.replace(/[\\%_]/gu, '\\$&')}%`;

export class TableCompiler<Asked extends Question> {
  readonly sql = new SqlBuilder();
  protected readonly expressions: ExpressionCompiler;
  /** For the conditions of grants, which are asked of the records as they are. */
  private readonly rules: ExpressionCompiler;
  private aliases = 0;

  constructor(
    protected readonly restricted: RestrictedQuery<Asked>,
    protected readonly design: AppDesign,
    protected readonly schema: string,
  ) {
    this.expressions = new ExpressionCompiler({
      ...restricted.around,
      builder: this.sql,
      design,
      visible: (table) => this.visible(tableOf(design, table)),
      sight: (table, field) => this.fieldSight(table, field),
      prefix: 'e',
    });
    this.rules = new ExpressionCompiler({
      ...restricted.grantsAround,
      builder: this.sql,
      design,
      visible: (table) => tableName(schema, tableOf(design, table)),
      seesAll: true,
      prefix: 'g',
    });
  }

  protected alias(): string {
    this.aliases += 1;
    return `r${this.aliases}`;
  }

  /** An expression of the design, which was checked when it was put there. */
  protected node(text: string, table: string): Node {
    const checked = check(text, { design: this.design, table }, wants.anything);
    if (!checked.ok) throw new TypeError(`An expression of the design cannot be read: ${text}`);
    return checked.node;
  }

  /** What a formula field gives of the record itself, as far as that may be seen. */
  protected formula(field: Extract<Field, { kind: 'formula' }>, table: string): Node {
    const body = this.node(field.expression, table);
    const at = { from: body.from, to: body.to };
    const of: Node = { ...at, kind: 'self', table, type: { kind: 'record', table } };
    return { ...at, kind: 'formula', of, field, body, nameAt: at, type: body.type, digits: body.digits };
  }

  /** What a record is called: its caption, or its number when that is empty. */
  protected caption(row: SqlRecord): string {
    const { caption } = tableOf(this.design, row.table);
    const number = `'No. ' || ${row.alias}.id::text`;
    return caption === '' ? `(${number})` : `COALESCE(NULLIF(${this.expressions.text(this.node(caption, row.table), row)}, ''), ${number})`;
  }

  protected condition(condition: Condition, table: Table, row: SqlRecord): string {
    const { alias } = row;
    switch (condition.kind) {
      case 'all': {
        const parts = condition.of.map((each) => this.condition(each, table, row)).filter((text) => text !== 'true');
        return parts.length === 0 ? 'true' : `(${parts.join(' AND ')})`;
      }
      case 'any':
        return condition.of.length === 0 ? 'false' : `(${condition.of.map((each) => this.condition(each, table, row)).join(' OR ')})`;
      case 'equals': {
        const column = `${alias}.${ident(fieldOf(table, condition.field).column)}`;
        return condition.value === null ? `${column} IS NULL` : `${column} = ${this.sql.param(condition.value)}`;
      }
      case 'refers_to':
        return `${alias}.${ident(fieldOf(table, condition.field).column)} = ANY(${this.sql.param(condition.ids, 'bigint[]')})`;
      case 'meets':
        return this.expressions.condition(condition.condition, row);
      case 'rule': {
        const raw = rowOf(this.alias(), table.id);
        const met = this.rules.condition(condition.condition, raw);
        return `${alias}.id IN (SELECT ${raw.alias}.id FROM ${[`${tableName(this.schema, table)} AS ${raw.alias}`, ...raw.scope.joins].join(' ')} WHERE ${met})`;
      }
      case 'gives':
        return this.gives(condition.node, condition.value, row);
      case 'parents_of': {
        const { child, field } = relationshipOf(this.design, condition.relationship);
        const [children, c] = [tableOf(this.design, child), this.alias()];
        const written = condition.ids === 'just_added' ? `${c}.created_at = now()` : `${c}.id = ANY(${this.sql.param(condition.ids, 'bigint[]')})`;
        return `${alias}.id IN (SELECT ${c}.${ident(fieldOf(children, field).column)} FROM ${this.visible(children)} AS ${c} WHERE ${written})`;
      }
      case 'just_added':
        // A record bears the time at which its transaction began.
        return `${alias}.created_at = now()`;
      case 'added_by':
        return `${alias}.created_by = ${this.sql.param(condition.person, 'bigint')}`;
      case 'ids':
        return `${alias}.id = ANY(${this.sql.param(condition.ids, 'bigint[]')})`;
      case 'search': {
        const parts = wordsOf(condition.text).map((word) => this.word(word, table, alias));
        return parts.length === 0 ? 'true' : `(${parts.join(' AND ')})`;
      }
      default:
        return condition satisfies never;
    }
  }

  private gives(node: Node, value: Value, row: SqlRecord): string {
    if (node.type.kind === 'record') {
      const id = isReference(value) ? value.id : null;
      return `${this.expressions.record(node, row).alias}.id IS NOT DISTINCT FROM ${this.sql.param(id, 'bigint')}`;
    }
    const given = this.expressions.value(node, row);
    if (node.type.kind === 'boolean') return `${given} IS NOT DISTINCT FROM ${this.sql.param(typeof value === 'boolean' ? value : null, 'boolean')}`;
    // As text, which is how it travelled: so nothing that comes from outside is converted, and nothing can raise.
    const text = value === null || isReference(value) ? null : String(value);
    return `${this.expressions.text(node, row)} IS NOT DISTINCT FROM ${this.sql.param(text, 'text')}`;
  }

  /**
   * A word is in the record's own words, or in those of a record it refers to that the person can see.
   * @param within where to look; not given: in all of these
   */
  protected word(word: string, table: Table, alias: string, within?: { readonly own: boolean; readonly references: ReadonlySet<string> }): string {
    const pattern = this.sql.param(containing(word));
    const own = within?.own === false ? null : searchText(table, alias);
    const parts = own === null ? [] : [`${own} ILIKE ${pattern}`];
    for (const field of table.fields) {
      if (field.kind !== 'reference' || within?.references.has(field.id) === false) continue;
      const parent = parentOf(this.design, field);
      const inner = this.alias();
      const text = searchText(parent, inner);
      if (text === null) continue;
      parts.push(`${alias}.${ident(field.column)} = ANY(ARRAY(SELECT ${inner}.id FROM ${this.visible(parent)} AS ${inner} WHERE ${text} ILIKE ${pattern}))`);
    }
    if (within === undefined) parts.push(...this.linkedWord(pattern, table, alias));
    if (/^\d{1,15}$/u.test(word)) parts.push(`${alias}.id = ${this.sql.param(word, 'bigint')}`);
    return parts.length === 0 ? 'false' : `(${parts.join(' OR ')})`;
  }

  /** The same in the words of records that belong to it by a link. */
  private linkedWord(pattern: string, table: Table, alias: string): readonly string[] {
    return linksOf(this.design, table.id).flatMap((relationship) => {
      const [link, side] = [tableOf(this.design, relationship.child), otherSide(this.design, relationship)];
      const [pair, other] = [this.alias(), this.alias()];
      const text = side === null ? null : searchText(side.table, other);
      if (side === null || text === null) return [];
      const [own, its] = [ident(fieldOf(link, relationship.field).column), ident(side.field.column)];
      const pairs = `${this.visible(link)} AS ${pair} JOIN ${this.visible(side.table)} AS ${other} ON ${other}.id = ${pair}.${its}`;
      return [`${alias}.id = ANY(ARRAY(SELECT ${pair}.${own} FROM ${pairs} WHERE ${text} ILIKE ${pattern}))`];
    });
  }

  /** A table as far as its records and their fields may be seen, as what can be behind FROM. Every reference to a table is this. */
  protected visible(table: Table, sampled = ''): string {
    const name = tableName(this.schema, table);
    const sight = this.restricted.sightIn(table.id);
    if (sight.kind === 'all') return name;
    const row = rowOf(this.alias(), table.id);
    // Rules are asked of the records as they are: their joins are in a row of their own, which nothing else sees.
    const met = sight.grants.map((grant) => (grant.condition === null ? 'true' : this.rules.condition(grant.condition, row)));
    const rows = anyOf(met);
    const openIf = (field: string): string => anyOf(met.filter((_, i) => sight.grants[i]?.withheld.has(field) === false));
    const masked = table.fields.filter(
      (field) => rows !== 'false' && sight.grants.some((grant) => grant.withheld.has(field.id)) && openIf(field.id) !== 'true',
    );
    const columns = masked.length === 0 ? [`${row.alias}.*`] : this.masked(table, row.alias, new Map(masked.map((field) => [field.id, openIf(field.id)])));
    const from = [`${name} AS ${row.alias}${sampled}`, ...row.scope.joins].join(' ');
    return `(SELECT ${columns.join(', ')} FROM ${from} WHERE ${rows})`;
  }

  /** The columns of a table, those that can't be seen empty; for formulas, whether what they give may be seen. */
  private masked(table: Table, alias: string, openIf: ReadonlyMap<string, string>): readonly string[] {
    const own = systemColumns.map((column) => `${alias}.${column}`);
    const fields = table.fields.map((field): string => {
      const open = openIf.get(field.id);
      if (field.kind === 'formula') return `${open ?? 'true'} AS ${ident(sightColumn(field))}`;
      const column = `${alias}.${ident(field.column)}`;
      if (open === undefined) return column;
      return `${open === 'false' ? `NULL::${columnType(field)}` : `CASE WHEN ${open} THEN ${column} END`} AS ${ident(field.column)}`;
    });
    return [...own, ...fields];
  }

  /** Whether a field may be seen; of a formula the visible part of the table says in a column where. */
  protected fieldSight(table: string, field: Field): 'always' | 'never' | { readonly column: string } {
    const sight = this.restricted.sightIn(table);
    if (sight.kind === 'all' || !sight.grants.some((grant) => grant.withheld.has(field.id))) return 'always';
    const showing = sight.grants.filter((grant) => !grant.withheld.has(field.id));
    return showing.length === 0 ? 'never' : showing.some((grant) => grant.condition === null) ? 'always' : { column: sightColumn(field) };
  }

  /** The visible part of a table with what its row's expressions have joined to it. */
  protected from(table: Table, row: SqlRecord, sampled = ''): string {
    const { kind } = this.restricted.sightIn(table.id);
    return [`${this.visible(table, sampled)} AS ${row.alias}${kind === 'all' ? sampled : ''}`, ...row.scope.joins].join(' ');
  }
}

const sightColumn = (field: Field): string => `__sees_${field.id}`;
const anyOf = (conditions: readonly string[]): string =>
  conditions.includes('true') ? 'true' : conditions.length === 0 ? 'false' : `(${conditions.join(' OR ')})`;
