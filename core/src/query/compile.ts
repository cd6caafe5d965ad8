/** From a restricted query to SQL. Names come from the design, values travel as parameters, never raises on data. */
import type { AppDesign, Field, Table } from '../design/design.js';
import { fieldOf, parentOf, tableOf } from '../design/read.js';
import { searchText } from '../migration/columns.js';
import { ident, literal, SqlBuilder, type Statement } from '../sql/sql.js';
import type { Condition, Cursor, RestrictedQuery } from './query.js';

/** Names the table of an app in its schema. */
export const tableName = (schema: string, table: Table): string => `${ident(schema)}.${ident(table.slug)}`;

/** A text of pg's pattern language that matches `text` itself anywhere. */
const containing = (text: string): string => `%${text.replace(/[\\%_]/gu, '\\$&')}%`;

/** What a record is called: its caption's values joined by " · ", or its number when they are all empty. */
function captionSql(table: Table, alias: string): string {
  const parts = table.caption.map((id) => {
    const field = fieldOf(table, id);
    const column = `${alias}.${ident(field.column)}`;
    if (field.kind === 'choice') return `CASE ${column} ${field.choices.map((one) => `WHEN ${literal(one.id)} THEN ${literal(one.label)}`).join(' ')} END`;
    if (field.kind === 'date') return `(extract(day FROM ${column})::text || to_char(${column}, ' Mon YYYY'))`;
    if (field.kind === 'yes_no') return `CASE ${column} WHEN true THEN ${literal(field.name)} END`;
    return field.kind === 'text' ? column : `${column}::text`;
  });
  const number = `'No. ' || ${alias}.id::text`;
  return parts.length === 0 ? `(${number})` : `COALESCE(NULLIF(concat_ws(' · ', ${parts.join(', ')}), ''), ${number})`;
}

class Compiler {
  readonly sql = new SqlBuilder();
  private aliases = 0;

  constructor(
    private readonly restricted: RestrictedQuery,
    private readonly design: AppDesign,
    private readonly schema: string,
  ) {}

  private alias(): string {
    this.aliases += 1;
    return `r${this.aliases}`;
  }

  condition(condition: Condition, table: Table, alias: string): string {
    switch (condition.kind) {
      case 'all': {
        const parts = condition.of.map((one) => this.condition(one, table, alias)).filter((text) => text !== 'true');
        return parts.length === 0 ? 'true' : `(${parts.join(' AND ')})`;
      }
      case 'any':
        return condition.of.length === 0 ? 'false' : `(${condition.of.map((one) => this.condition(one, table, alias)).join(' OR ')})`;
      case 'none':
        return 'false';
      case 'equals': {
        const column = `${alias}.${ident(fieldOf(table, condition.field).column)}`;
        return condition.value === null ? `${column} IS NULL` : `${column} = ${this.sql.param(condition.value)}`;
      }
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
      const rows = this.condition(this.restricted.rowsOf(parent.id), parent, inner);
      parts.push(
        `${alias}.${ident(field.column)} = ANY(ARRAY(SELECT ${inner}.id FROM ${tableName(this.schema, parent)} AS ${inner} WHERE ${text} ILIKE ${pattern}${rows === 'true' ? '' : ` AND ${rows}`}))`,
      );
    }
    if (/^\d{1,15}$/u.test(word)) parts.push(`${alias}.id = ${this.sql.param(word, 'bigint')}`);
    return parts.length === 0 ? 'false' : `(${parts.join(' OR ')})`;
  }

  /** What a table is sorted by: the column, or for a reference what the record is called, for a choice its place. */
  private sortKey(alias: string, field: Field): string {
    const column = `${alias}.${ident(field.column)}`;
    if (field.kind === 'reference') {
      const parent = parentOf(this.design, field);
      const inner = this.alias();
      return `(SELECT ${captionSql(parent, inner)} FROM ${this.visible(parent)} AS ${inner} WHERE ${inner}.id = ${column})`;
    }
    if (field.kind === 'choice') return `array_position(ARRAY[${field.choices.map((one) => literal(one.id)).join(', ')}]::text[], ${column})`;
    return column;
  }

  /** A table as far as its records may be seen. */
  private visible(table: Table): string {
    const alias = this.alias();
    const rows = this.condition(this.restricted.rowsOf(table.id), table, alias);
    return rows === 'true' ? tableName(this.schema, table) : `(SELECT ${alias}.* FROM ${tableName(this.schema, table)} AS ${alias} WHERE ${rows})`;
  }

  /** The columns of the result, and the joins that name the records referred to. */
  private shown(table: Table, alias: string, columns: readonly string[]): { readonly select: string; readonly joins: string } {
    const joins: string[] = [];
    const select = columns.map((id) => {
      const field = fieldOf(table, id);
      const column = `${alias}.${ident(field.column)}`;
      if (field.kind === 'date') return `${column}::text AS ${ident(id)}`;
      if (field.kind === 'decimal') return `trim_scale(${column})::text AS ${ident(id)}`;
      if (field.kind !== 'reference') return `${column} AS ${ident(id)}`;
      const parent = parentOf(this.design, field);
      const joined = this.alias();
      joins.push(`LEFT JOIN ${this.visible(parent)} AS ${joined} ON ${joined}.id = ${column}`);
      // A reference to a record this person may not see is as empty as none.
      return `CASE WHEN ${joined}.id IS NOT NULL THEN jsonb_build_object('id', ${joined}.id, 'caption', ${captionSql(parent, joined)}) END AS ${ident(id)}`;
    });
    return { select: select.map((one) => `, ${one}`).join(''), joins: joins.map((one) => ` ${one}`).join('') };
  }

  /**
   * One page. Empty values come last in both directions, so a page is the rest of the filled ones and then the empty
   * ones: two ranges of one index, joined by UNION ALL, of which PostgreSQL reads the second only when needed.
   */
  page(): Statement {
    const { query } = this.restricted;
    const table = tableOf(this.design, query.table);
    const field = query.sort === null ? null : fieldOf(table, query.sort.field);
    const ascending = (query.sort?.direction !== 'down') !== query.backwards;
    const limit = this.sql.param(query.limit, 'integer');
    const range = (alias: string, extra: string | null, order: string): string => {
      const where = [this.condition(query.where, table, alias), extra].filter((one) => one !== null && one !== 'true');
      const key = field === null ? 'NULL' : this.sortKey(alias, field);
      return `SELECT ${alias}.*, ${key} AS __key FROM ${tableName(this.schema, table)} AS ${alias}${where.length === 0 ? '' : ` WHERE ${where.join(' AND ')}`} ORDER BY ${order} LIMIT ${limit}`;
    };
    const up = ascending ? 'ASC' : 'DESC';
    const beyond = ascending ? '>' : '<';
    const ranges: string[] = [];
    if (field === null) {
      const past = query.after === null ? null : `t.id ${beyond} ${this.sql.param(query.after.id, 'bigint')}`;
      ranges.push(range('t', past, `t.id ${up}`));
    } else {
      const filled = (): string => {
        const key = this.sortKey('t', field);
        const past = query.after === null || query.after.value === null ? null : this.pastFilled(key, field, query.after, ascending);
        return range('t', past === null ? `${key} IS NOT NULL` : past, `${key} ${up}, t.id ${up}`);
      };
      const empty = (): string => {
        const past = query.after !== null && query.after.value === null ? ` AND t.id ${beyond} ${this.sql.param(query.after.id, 'bigint')}` : '';
        return range('t', `${this.sortKey('t', field)} IS NULL${past}`, `t.id ${up}`);
      };
      const hasEmpty = !field.required || field.kind === 'reference';
      const startsInEmpty = query.after !== null && query.after.value === null;
      if (query.backwards) {
        if (hasEmpty && (query.after === null || startsInEmpty)) ranges.push(empty());
        ranges.push(filled());
      } else {
        if (!startsInEmpty) ranges.push(filled());
        if (hasEmpty || startsInEmpty) ranges.push(empty());
      }
    }
    const union = ranges.length === 1 ? (ranges[0] ?? '') : `SELECT * FROM (${ranges.map((one) => `(${one})`).join(' UNION ALL ')}) AS ranges LIMIT ${limit}`;
    // One whole-row scan of at most a page is numbered before the joins, which may return it in any order.
    const { select, joins } = this.shown(table, 'p', query.columns);
    const numbered = `SELECT q.*, row_number() OVER () AS __place FROM (${union}) AS q`;
    const keyText = field?.kind === 'date' || field?.kind === 'decimal' ? 'p.__key::text' : 'p.__key';
    return this.sql.done(`SELECT p.id, p.rev, ${field === null ? 'NULL' : keyText} AS __key${select} FROM (${numbered}) AS p${joins} ORDER BY p.__place`);
  }

  private pastFilled(key: string, field: Field, after: Cursor, ascending: boolean): string {
    const cast = {
      text: 'text',
      long_text: 'text',
      reference: 'text',
      choice: 'integer',
      whole: 'bigint',
      decimal: 'numeric',
      date: 'date',
      yes_no: 'boolean',
    } as const;
    const value = this.sql.param(after.value, cast[field.kind]);
    const [or, and] = ascending ? ['>=', '>'] : ['<=', '<'];
    // Measured: this shape walks the index at once, (a > x OR a = x AND id > y) reads all that came before.
    return `${key} ${or} ${value} AND (${key} ${and} ${value} OR t.id ${and} ${this.sql.param(after.id, 'bigint')})`;
  }

  /** How many records, counting no further than `most` when it is given. */
  count(most: number | null): Statement {
    const { query } = this.restricted;
    const table = tableOf(this.design, query.table);
    const where = this.condition(query.where, table, 't');
    const from = `FROM ${tableName(this.schema, table)} AS t WHERE ${where}`;
    return this.sql.done(
      most === null
        ? `SELECT count(*)::float8 AS count ${from}`
        : `SELECT count(*)::float8 AS count FROM (SELECT ${from} LIMIT ${this.sql.param(most, 'integer')}) AS counted`,
    );
  }

  /** Records by what they are called, those first whose name begins with the text. */
  lookup(text: string): Statement {
    const { query } = this.restricted;
    const table = tableOf(this.design, query.table);
    const caption = captionSql(table, 't');
    const where = this.condition(query.where, table, 't');
    const words = text.split(/\s+/u).filter((word) => word !== '');
    const matches = words.map((word) => ` AND ${caption} ILIKE ${this.sql.param(containing(word))}`).join('');
    const first = this.sql.param(containing(text.trim()).slice(1));
    return this.sql.done(
      `SELECT t.id, ${caption} AS caption FROM ${tableName(this.schema, table)} AS t WHERE ${where}${matches} ORDER BY ${caption} ILIKE ${first} DESC, caption, t.id LIMIT ${this.sql.param(query.limit, 'integer')}`,
    );
  }

  /** Every record a person may see with what it is called: what an import matches references by. */
  captions(): Statement {
    const { query } = this.restricted;
    const table = tableOf(this.design, query.table);
    return this.sql.done(
      `SELECT t.id, ${captionSql(table, 't')} AS caption FROM ${tableName(this.schema, table)} AS t WHERE ${this.condition(query.where, table, 't')} ORDER BY t.id LIMIT ${this.sql.param(query.limit, 'integer')}`,
    );
  }

  /** The values of one field, as text: what an import holds a unique field against. */
  valuesOf(fieldId: string): Statement {
    const { query } = this.restricted;
    const table = tableOf(this.design, query.table);
    const column = `t.${ident(fieldOf(table, fieldId).column)}`;
    return this.sql.done(
      `SELECT ${column}::text AS value FROM ${tableName(this.schema, table)} AS t WHERE ${column} IS NOT NULL AND ${this.condition(query.where, table, 't')}`,
    );
  }

  /** What is really in a field: see `FieldStatistics`. `sample` is the part (in percent) of the pages to read, or null for all. */
  statistics(fieldId: string, bins: number, sample: number | null): Statement {
    const { query } = this.restricted;
    const table = tableOf(this.design, query.table);
    const field = fieldOf(table, fieldId);
    // The sample is the same for all fields of one look (REPEATABLE), so that the heads can be compared.
    const from = `${tableName(this.schema, table)} AS t${sample === null ? '' : ` TABLESAMPLE SYSTEM (${this.sql.param(sample, 'real')}) REPEATABLE (1)`}`;
    const source = `SELECT t.${ident(field.column)} AS v FROM ${from} WHERE ${this.condition(query.where, table, 't')}`;
    const number = field.kind === 'whole' || field.kind === 'decimal' ? 'v::float8' : field.kind === 'date' ? "(v - DATE '2000-01-01')::float8" : null;
    const spread = number === null ? frequencies(bins) : histogram(number, bins);
    const [low, high] = number === null ? ['NULL::text', 'NULL::text'] : ['min(v)::text', 'max(v)::text'];
    return this.sql.done(
      `WITH s AS MATERIALIZED (${source}) SELECT count(*)::float8 AS rows, count(v)::float8 AS filled, count(DISTINCT v)::float8 AS distinct_values, ${low} AS low, ${high} AS high, (${spread}) AS spread FROM s`,
    );
  }
}

const frequencies = (bins: number): string =>
  `SELECT COALESCE(jsonb_agg(n ORDER BY n DESC), '[]') FROM (SELECT count(*) AS n FROM s WHERE v IS NOT NULL GROUP BY v ORDER BY n DESC LIMIT ${bins}) AS f`;

const histogram = (number: string, bins: number): string =>
  `SELECT COALESCE(jsonb_agg(COALESCE(n, 0) ORDER BY bin), '[]') FROM generate_series(1, ${bins}) AS bin LEFT JOIN (SELECT least(${bins}, CASE WHEN high > low THEN 1 + floor((${number} - low) / (high - low) * ${bins})::int ELSE 1 END) AS bin, count(*) AS n FROM s, (SELECT min(${number}) AS low, max(${number}) AS high FROM s) AS ends WHERE v IS NOT NULL GROUP BY 1) AS h USING (bin)`;

type Source = readonly [restricted: RestrictedQuery, design: AppDesign, schema: string];

export const compilePage = (...source: Source): Statement => new Compiler(...source).page();
export const compileCount = (source: Source, most: number | null): Statement => new Compiler(...source).count(most);
export const compileLookup = (source: Source, text: string): Statement => new Compiler(...source).lookup(text);
export const compileCaptions = (...source: Source): Statement => new Compiler(...source).captions();
export const compileValues = (source: Source, field: string): Statement => new Compiler(...source).valuesOf(field);
export const compileStatistics = (source: Source, field: string, bins: number, sample: number | null): Statement =>
  new Compiler(...source).statistics(field, bins, sample);
