/** What the rows of a file repeat, such as the apiary of each hive: things that can each have a table of their own. */
import type { FieldKind } from '../fields/kinds.js';
import { chance, CodedColumn, Dependencies, isName, type Grouped } from './dependencies.js';

/** So many cells are looked at: enough to be sure, and little enough for the memory of a server. */
const mostCells = 6_000_000;

/** The values that rows of one name have in a column, the most frequent first. */
export interface DifferingName {
  readonly name: string;
  /** With the line of the file where each is first. */
  readonly values: readonly { readonly text: string; readonly rows: number; readonly line: number }[];
}

export interface RepeatedColumn {
  readonly column: number;
  /** Rows that have another value than most rows of the same name. */
  readonly differing: number;
  /** The first names with such rows. */
  readonly names: readonly DifferingName[];
}

/** Something that rows name again and again, and what they repeat about it. */
export interface RepeatedThing {
  /** The column with its name. All columns are counted from 0. */
  readonly key: number;
  /** How many different ones there are, and how many rows name one. */
  readonly count: number;
  readonly rows: number;
  readonly columns: readonly RepeatedColumn[];
  /** The key of the thing that each belongs to one of it: each hive has one apiary. Null: the rows themselves do. */
  readonly within: number | null;
  /** How surely it follows from that thing. */
  readonly follows: RepeatedColumn | null;
}

export interface Repeats {
  /** Rows that were looked at. */
  readonly rows: number;
  /** The columns that are filled and different in every row. */
  readonly keys: readonly number[];
  /** What belongs to rows first, and what belongs to that after it. */
  readonly things: readonly RepeatedThing[];
}

/** So many names with differing rows are shown of a column. */
const mostNames = 100;
const mostValues = 6;

/** Looks at rows as they are read, and says at the end what they repeat. */
export class RepeatFinder {
  private readonly columns: CodedColumn[] = [];
  private readonly lines: number[] = [];

  see(cells: readonly string[], line: number): void {
    const width = Math.max(this.columns.length, cells.length);
    if (this.lines.length * width > mostCells) return;
    while (this.columns.length < width) {
      const column = new CodedColumn();
      for (let row = 0; row < this.lines.length; row += 1) column.see('');
      this.columns.push(column);
    }
    for (let at = 0; at < width; at += 1) (this.columns[at] as CodedColumn).see(cells[at] ?? '');
    this.lines.push(line);
  }

  /** @param kinds of the columns: what is not among them is left out */
  result(kinds: readonly FieldKind[]): Repeats {
    const rows = this.lines.length;
    const columns = this.columns.slice(0, kinds.length);
    const keys = columns.flatMap((column, at) => (rows > 1 && !column.isProse && isName(kinds[at]) && column.names === rows ? [at] : []));
    const found = new Dependencies(columns, kinds);
    return { rows, keys, things: thingsOf(found, columns.length).map((thing) => this.told(thing, found)) };
  }

  private told({ key, columns, within }: Thing, found: Dependencies): RepeatedThing {
    const { rows, starts } = found.grouped(key);
    const repeated = (of: number, column: number): RepeatedColumn => {
      const { differing } = found.of(of, column);
      return { column, differing, names: differing === 0 ? [] : this.differingNames(of, column, found.grouped(of)) };
    };
    return {
      key,
      within,
      count: starts.length - 1,
      rows: rows.length - (starts[1] ?? rows.length),
      columns: columns.map((column) => repeated(key, column)),
      follows: within === null ? null : repeated(within, key),
    };
  }

  private differingNames(key: number, column: number, { rows, starts }: Grouped): DifferingName[] {
    const [named, of] = [this.columns[key] as CodedColumn, this.columns[column] as CodedColumn];
    const found: DifferingName[] = [];
    for (let group = 0; group < starts.length && found.length < mostNames; group += 1) {
      const part = rows.subarray(starts[group], starts[group + 1] ?? rows.length);
      const values = new Map<number, { rows: number; line: number }>();
      for (const row of part) {
        const code = of.rows[row] as number;
        const known = values.get(code);
        if (known === undefined) values.set(code, { rows: 1, line: this.lines[row] as number });
        else known.rows += 1;
      }
      const isTold = group === 0 ? [...values.keys()].some((code) => code !== 0) : values.size > 1;
      if (!isTold) continue;
      const sorted = [...values].sort(([, a], [, b]) => b.rows - a.rows || a.line - b.line).slice(0, mostValues);
      found.push({
        name: group === 0 ? '' : (named.texts[named.rows[part[0] as number] as number] as string),
        values: sorted.map(([code, { rows: count, line }]) => ({ text: of.texts[code] as string, rows: count, line })),
      });
    }
    return found;
  }
}

interface Thing {
  readonly key: number;
  readonly columns: readonly number[];
  readonly within: number | null;
}

/** The things, each with the columns that are closest to it. Kept so, nothing is written twice. */
function thingsOf(found: Dependencies, width: number): readonly Thing[] {
  const proven = lasting(keysOf(found, width), (keys) => arranged(found, width, keys, chance.ofAny / width ** 2));
  // Of what is a thing for sure, less proves that a column is of it.
  return inOrder(
    lasting(
      proven.map((thing) => thing.key),
      (keys) => arranged(found, width, keys, chance.ofThing),
    ),
  );
}

/** The things that are left without those that have a name and nothing more: these are columns of something else. */
function lasting(keys: readonly number[], arrange: (keys: readonly number[]) => readonly Thing[]): readonly Thing[] {
  const things = arrange(keys);
  const left = things.filter((thing) => thing.columns.length > 0 || things.some((other) => other.within === thing.key));
  return left.length === things.length
    ? things
    : lasting(
        left.map((thing) => thing.key),
        arrange,
      );
}

/** One column for each thing. Of several that name the same thing, the one with the fewest names, because each slip adds one; else the first. */
function keysOf(found: Dependencies, width: number): number[] {
  const all = Array.from({ length: width }, (_, at) => at);
  const candidates = all.filter((key) => all.some((column) => found.follows(column, key)));
  const isBefore = (each: number, other: number): boolean => (found.names(each) - found.names(other) || each - other) < 0;
  return candidates.filter((key) => candidates.every((other) => other === key || !found.areAlike(key, other) || isBefore(key, other)));
}

/** @param risk the probability of chance up to which a column is moved from one thing to another that it belongs to */
function arranged(found: Dependencies, width: number, keys: readonly number[], risk: number): Thing[] {
  // Of two that seem to follow from each other and are not the same, the one that does so better belongs to the other.
  const belongs = (inner: number, outer: number): boolean =>
    found.follows(outer, inner) && !(found.follows(inner, outer) && (found.areAlike(inner, outer) || better(outer, inner)));
  const better = (key: number, column: number): boolean => {
    const [there, back] = [found.of(key, column).differing, found.of(column, key).differing];
    return there < back || (there === back && key < column);
  };
  const nearest = (column: number, all: readonly number[]): number | null => {
    const good = all.filter((key) => all.every((upper) => upper === key || !belongs(upper, key) || found.followsCloser(column, key, upper, risk)));
    const near = good.filter((key) => !good.some((other) => other !== key && belongs(key, other)));
    // Where two say it as well, people write what belongs together side by side.
    const distance = (key: number): number => (key < column ? column - key : width + key - column);
    return near.reduce<number | null>((best, key) => (best === null || distance(key) < distance(best) ? key : best), null);
  };
  const owned = new Map<number, number[]>(keys.map((key) => [key, []]));
  for (let column = 0; column < width; column += 1) {
    if (keys.includes(column)) continue;
    const key = nearest(
      column,
      keys.filter((each) => found.follows(column, each)),
    );
    if (key !== null) owned.get(key)?.push(column);
  }
  return keys.map((key) => ({
    key,
    columns: owned.get(key) ?? [],
    within: nearest(
      key,
      keys.filter((each) => each !== key && belongs(each, key)),
    ),
  }));
}

/** Each after the thing that it belongs to. */
function inOrder(things: readonly Thing[]): Thing[] {
  const ordered: Thing[] = [];
  const add = (within: number | null): void => {
    for (const thing of things) {
      if (thing.within !== within) continue;
      ordered.push(thing);
      add(thing.key);
    }
  };
  add(null);
  return ordered;
}
