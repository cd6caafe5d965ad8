/** What every compiled question is made of: tables as far as they may be seen, conditions, captions. */
import type { AppDesign, Table } from '../design/design.js';
import { fieldOf, parentOf, relationshipOf, tableOf } from '../design/read.js';
import { check } from '../expression/check.js';
import { ExpressionCompiler, rowOf } from '../expression/compile.js';
import type { Node } from '../expression/node.js';
import type { SqlRecord } from '../expression/sql-value.js';
import { searchText } from '../migration/columns.js';
import { ident, SqlBuilder } from '../sql/sql.js';
import type { Condition, Question, RestrictedQuery } from './query.js';

/** Names the table of an app in its schema. */
export const tableName = (schema: string, table: Table): string => `${ident(schema)}.${ident(table.slug)}`;

/** A text of pg's pattern language that matches `text` itself anywhere. */
export const containing = (text: string): string => `%${text.replace(/[\\%_]/gu, '\\$&')}%`;

export class TableCompiler<Asked extends Question> {
  readonly sql = new SqlBuilder();
  protected readonly expressions: ExpressionCompiler;
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
      prefix: 'e',
    });
  }

  protected alias(): string {
    this.aliases += 1;
    return `r${this.aliases}`;
  }

  /** An expression of the design, which was checked when it was put there. */
  protected node(text: string, table: string): Node {
    const checked = check(text, { design: this.design, table }, { fits: () => true, says: '' });
    if (!checked.ok) throw new TypeError(`An expression of the design cannot be read: ${text}`);
    return checked.node;
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
        const parts = condition.of.map((one) => this.condition(one, table, row)).filter((text) => text !== 'true');
        return parts.length === 0 ? 'true' : `(${parts.join(' AND ')})`;
      }
      case 'any':
        return condition.of.length === 0 ? 'false' : `(${condition.of.map((one) => this.condition(one, table, row)).join(' OR ')})`;
      case 'none':
        return 'false';
      case 'equals': {
        const column = `${alias}.${ident(fieldOf(table, condition.field).column)}`;
        return condition.value === null ? `${column} IS NULL` : `${column} = ${this.sql.param(condition.value)}`;
      }
      case 'meets':
        return this.expressions.condition(condition.condition, row);
      case 'parents_of': {
        const { child, field } = relationshipOf(this.design, condition.relationship);
        const [children, c] = [tableOf(this.design, child), this.alias()];
        return `${alias}.id IN (SELECT ${c}.${ident(fieldOf(children, field).column)} FROM ${this.visible(children)} AS ${c} WHERE ${c}.id = ANY(${this.sql.param(condition.ids, 'bigint[]')}))`;
      }
      case 'just_added':
        // A record bears the time at which its transaction began.
        return `${alias}.created_at = now()`;
      case 'ids':
        return `${alias}.id = ANY(${this.sql.param(condition.ids, 'bigint[]')})`;
      case 'search': {
        const words = condition.text.split(/\s+/u).filter((word) => word !== '');
        const parts = words.map((word) => this.word(word, table, alias));
        return parts.length === 0 ? 'true' : `(${parts.join(' AND ')})`;
      }
      default:
        return condition satisfies never;
    }
  }

  /** A word stands in the record's own words, or in those of a record it refers to that the person may see. */
  private word(word: string, table: Table, alias: string): string {
    const pattern = this.sql.param(containing(word));
    const own = searchText(table, alias);
    const parts = own === null ? [] : [`${own} ILIKE ${pattern}`];
    for (const field of table.fields) {
      if (field.kind !== 'reference') continue;
      const parent = parentOf(this.design, field);
      const inner = this.alias();
      const text = searchText(parent, inner);
      if (text === null) continue;
      parts.push(`${alias}.${ident(field.column)} = ANY(ARRAY(SELECT ${inner}.id FROM ${this.visible(parent)} AS ${inner} WHERE ${text} ILIKE ${pattern}))`);
    }
    if (/^\d{1,15}$/u.test(word)) parts.push(`${alias}.id = ${this.sql.param(word, 'bigint')}`);
    return parts.length === 0 ? 'false' : `(${parts.join(' OR ')})`;
  }

  /** A table as far as its records may be seen. */
  protected visible(table: Table): string {
    const row = rowOf(this.alias(), table.id);
    const rows = this.condition(this.restricted.rowsOf(table.id), table, row);
    return rows === 'true' ? tableName(this.schema, table) : `(SELECT ${row.alias}.* FROM ${this.from(table, row)} WHERE ${rows})`;
  }

  /** The table itself with what its row's expressions have joined to it. */
  protected from(table: Table, row: SqlRecord): string {
    return [`${tableName(this.schema, table)} AS ${row.alias}`, ...row.scope.joins].join(' ');
  }
}
