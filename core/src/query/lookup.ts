/** Finding records by what they are called: in a picker while one types, quickly among a million too. */
import type { Field, Table } from '../design/design.js';
import { tableOf } from '../design/read.js';
import { rowOf } from '../expression/compile.js';
import { captionStart, startsOrdered } from '../migration/columns.js';
import type { SqlRecord } from '../feel/sql-value.js';
import { ident, type Statement } from '../sql/sql.js';
import { wordsOfCaption } from './caption-words.js';
import { containing, startingWith, TableCompiler } from './compiler.js';
import type { Query } from './query.js';

/** So many records that match are put in order; a text that more of them match says too little. */
const mostOrdered = 1000;
/** Texts of one or two characters are in no index: within a caption they are looked for among so many records, the newest. */
const mostLookedThrough = 50_000;
/** What a record without a name is called by, before its number. */
const withoutName = 'no. ';

class LookupCompiler extends TableCompiler<Query> {
  private row(): { readonly table: Table; readonly row: SqlRecord; readonly where: string } {
    const table = tableOf(this.design, this.restricted.query.table);
    const row = rowOf(this.alias(), table.id);
    return { table, row, where: this.condition(this.restricted.query.where, table, row) };
  }
  private get limit(): string {
    return this.sql.param(this.restricted.query.limit, 'integer');
  }

  /** Records by what they are called, those first whose name begins with the text. */
  lookup(text: string): Statement {
    const table = tableOf(this.design, this.restricted.query.table);
    const start = captionStart(table);
    const words = text.split(/\s+/u).filter((word) => word !== '');
    const isAll = words.length === 0;
    const parts = [...(start === undefined ? [] : [this.beginning(start, text.trim())]), ...(start !== undefined && isAll ? [] : [this.holding(words)])];
    const first = this.sql.param(startingWith(text.trim()));
    const found = parts.length === 1 ? (parts[0] ?? '') : parts.map((part) => `(${part})`).join(' UNION ');
    return this.sql.done(`SELECT id, caption FROM (${found}) AS f ORDER BY caption ILIKE ${first} DESC, caption, id LIMIT ${this.limit}`);
  }

  /** The first in order of those whose name begins with a text. */
  private beginning(start: Field, text: string): string {
    const { row, where } = this.row();
    const caption = this.caption(row);
    const key = startsOrdered(`${row.alias}.${ident(start.column)}`);
    const begins =
      text === ''
        ? ''
        : // Its first value alone is not its name: where another value is empty it is called by its number.
          ` AND ${key} LIKE ${this.sql.param(startingWith(text.toLowerCase()))} AND ${caption} ILIKE ${this.sql.param(startingWith(text))}`;
    return `SELECT ${row.alias}.id, ${caption} AS caption FROM ${this.from(tableOf(this.design, row.table), row)} WHERE ${where}${begins} ORDER BY ${key}, ${row.alias}.id LIMIT ${this.limit}`;
  }

  /** Some whose name has every word in it. */
  private holding(words: readonly string[]): string {
    const { table, row, where } = this.row();
    const { alias } = row;
    const caption = this.caption(row);
    const known = table.caption === '' ? null : wordsOfCaption(this.node(table.caption, table.id));
    const isShort = words.every((word) => word.length < 3);
    const matches = words.flatMap((word) => {
      const isIndexed = known !== null && word.length >= 3 && ![withoutName, ...known.constants].some((constant) => constant.includes(word.toLowerCase()));
      return [...(isIndexed ? [this.word(word, table, alias)] : []), `${caption} ILIKE ${this.sql.param(containing(word))}`];
    });
    const source = this.visible(table);
    const rows = isShort ? `(SELECT n.* FROM ${source} AS n ORDER BY n.id DESC LIMIT ${mostLookedThrough})` : source;
    const from = [`${rows} AS ${alias}`, ...row.scope.joins].join(' ');
    return `SELECT ${alias}.id, ${caption} AS caption FROM ${from} WHERE ${[where, ...matches].join(' AND ')} LIMIT ${mostOrdered}`;
  }

  /** Some records that meet the question, in no order: nothing is put in order or named that is not shown. */
  found(): Statement {
    const { table, row, where } = this.row();
    const inner = `SELECT ${row.alias}.* FROM ${this.from(table, row)} WHERE ${where} LIMIT ${this.limit}`;
    const named = rowOf('p', table.id);
    const caption = this.caption(named);
    return this.sql.done(`SELECT p.id, ${caption} AS caption FROM ${[`(${inner}) AS p`, ...named.scope.joins].join(' ')}`);
  }

  /** Every record a person can see with what it is called: what an import matches references by. */
  captions(): Statement {
    const { table, row, where } = this.row();
    const caption = this.caption(row);
    return this.sql.done(
      `SELECT ${row.alias}.id, ${caption} AS caption FROM ${this.from(table, row)} WHERE ${where} ORDER BY ${row.alias}.id LIMIT ${this.limit}`,
    );
  }
}

type Source = Readonly<ConstructorParameters<typeof LookupCompiler>>;
export const compileLookup = (source: Source, text: string): Statement => new LookupCompiler(...source).lookup(text);
export const compileFound = (source: Source): Statement => new LookupCompiler(...source).found();
export const compileCaptions = (...source: Source): Statement => new LookupCompiler(...source).captions();
