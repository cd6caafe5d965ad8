/** Finding records by what they are called: in a picker while one types, quickly among a million too. */
import { isStored, type StoredField, type Table } from '../design/design.js';
import { tableOf } from '../design/read.js';
import { rowOf } from '../expression/compile.js';
import { captionStart, columnKind, longestStart, startsOrdered } from '../migration/columns.js';
import { kindOf } from '../fields/kinds.js';
import type { Point } from '../fields/place.js';
import type { SqlRecord } from '../feel/sql-value.js';
import { ident, type Statement } from '../sql/sql.js';
import { wordsOfCaption } from './caption-words.js';
import { containing, startingWith, TableCompiler, wordsOf } from './compiler.js';
import type { Query } from './query.js';

/** So many records that match are put in order; a text that more of them match says too little. */
const mostOrdered = 1000;
/** Texts of one or two characters and digits of a number are in no index: within a caption they are looked for among so many records, the newest. */
const mostLookedThrough = 50_000;
/** What a record without a name is called by, before its number. */
const withoutName = 'no. ';

class LookupCompiler extends TableCompiler<Query> {
  private row(): { readonly table: Table; readonly row: SqlRecord; readonly where: string } {
    const table = tableOf(this.design, this.restricted.query.table);
    const row = rowOf(this.alias(), table.id);
    return { table, row, where: this.condition(this.restricted.query.where, table, row) };
  }
  /** Fields that are shown beside what a record is called, as far as a search looks through them. */
  private shownWith(table: Table): readonly StoredField[] {
    return table.fields.filter(isStored).filter((field) => table.shownWith?.includes(field.id) && kindOf(field).traits.searched);
  }
  private get limit(): string {
    return this.sql.param(this.restricted.query.limit, 'integer');
  }

  /** Records by what they are called, those first whose name begins with the text. */
  lookup(text: string): Statement {
    const table = tableOf(this.design, this.restricted.query.table);
    const start = captionStart(table);
    const words = wordsOf(text);
    const isAll = words.length === 0;
    const parts = [...(start === undefined ? [] : [this.beginning(start, text.trim())]), ...(start !== undefined && isAll ? [] : [this.holding(words)])];
    const first = this.sql.param(startingWith(text.trim()));
    const found = parts.length === 1 ? (parts[0] ?? '') : parts.map((part) => `(${part})`).join(' UNION ');
    return this.sql.done(`SELECT id, caption FROM (${found}) AS f ORDER BY caption ILIKE ${first} DESC, caption, id LIMIT ${this.limit}`);
  }

  /** The first in order of those whose name begins with a text. */
  private beginning(start: StoredField, text: string): string {
    const { row, where } = this.row();
    const caption = this.caption(row);
    const key = startsOrdered(start, `${row.alias}.${ident(start.column)}`);
    const begins =
      text === ''
        ? ''
        : // Its first value alone is not its name: where another value is empty it is called by its number.
          ` AND ${key} LIKE ${this.sql.param(startingWith(text.toLowerCase().slice(0, longestStart)))} AND ${caption} ILIKE ${this.sql.param(startingWith(text))}`;
    return `SELECT ${row.alias}.id, ${caption} AS caption FROM ${this.from(tableOf(this.design, row.table), row)} WHERE ${where}${begins} ORDER BY ${key}, ${row.alias}.id LIMIT ${this.limit}`;
  }

  /** Some whose name has every word in it. */
  private holding(words: readonly string[]): string {
    const { table, row, where } = this.row();
    const { alias } = row;
    const caption = this.caption(row);
    const known = table.caption === '' ? null : wordsOfCaption(this.node(table.caption, table.id));
    /** Whether an index finds all the records that have the word in what they are called. */
    const isIndexed = (word: string): boolean =>
      known !== null &&
      word.length >= 3 &&
      !(known.hasNumbers && /\d/u.test(word)) &&
      ![withoutName, ...known.constants].some((constant) => constant.includes(word.toLowerCase()));
    const isVague = words.every((word) => word.length < 3 || (known?.hasNumbers === true && !isIndexed(word)));
    const shown = this.shownWith(table).map((field) => columnKind(field).asText(`${alias}.${ident(field.column)}`, field));
    const matches = words.flatMap((word) => {
      const pattern = this.sql.param(containing(word));
      const within = [caption, ...shown].map((text) => `${text} ILIKE ${pattern}`).join(' OR ');
      return [
        ...(known !== null && isIndexed(word) ? [this.word(word, table, alias, { own: known.hasOwn || shown.length > 0, references: known.references })] : []),
        shown.length === 0 ? within : `(${within})`,
      ];
    });
    const source = this.visible(table);
    const rows = isVague ? `(SELECT n.* FROM ${source} AS n ORDER BY n.id DESC LIMIT ${mostLookedThrough})` : source;
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

  /** Records with a place, the nearest to a point first; without a point the newest. */
  nearest(field: StoredField, point: Point | null): Statement {
    const { table, row, where } = this.row();
    const column = `${row.alias}.${ident(field.column)}`;
    const part = (at: 1 | 2): string => `split_part(${column}, ', ', ${at})::float8`;
    const order = point === null ? `${row.alias}.id DESC` : this.distance(part(1), part(2), point);
    const inner = `SELECT ${row.alias}.*, row_number() OVER (ORDER BY ${order}) AS __place FROM ${this.from(table, row)} WHERE ${where} AND ${column} IS NOT NULL ORDER BY ${order} LIMIT ${this.limit}`;
    const named = rowOf('p', table.id);
    const caption = this.caption(named);
    return this.sql.done(
      `SELECT p.id, p.${ident(field.column)} AS place, ${caption} AS caption FROM ${[`(${inner}) AS p`, ...named.scope.joins].join(' ')} ORDER BY p.__place`,
    );
  }

  /** In no unit, for comparing: on a plane that touches the earth at the point, with the shorter way around it. */
  private distance(latitude: string, longitude: string, point: Point): string {
    const [north, east] = [this.sql.param(point.latitude, 'float8'), this.sql.param(point.longitude, 'float8')];
    const around = `(360 - abs(180 - mod(abs(${longitude} - ${east})::numeric, 360)::float8) - 180)`;
    return `(${latitude} - ${north}) ^ 2 + (${around} * cosd(${north})) ^ 2`;
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
export const compileNearest = (source: Source, field: StoredField, point: Point | null): Statement => new LookupCompiler(...source).nearest(field, point);
export const compileCaptions = (...source: Source): Statement => new LookupCompiler(...source).captions();
