/**
 * Finds in the rows of a file what they say again and again: columns whose value follows from that of another one. They are
 * functional dependencies (E. F. Codd, "Further Normalization of the Data Base Relational Model", 1971) of one column on one
 * other, with the fewest rows that would have to be changed for each to hold: the error g3 of J. Kivinen and H. Mannila,
 * "Approximate Inference of Functional Dependencies from Relations", 1995.
 */
import type { FieldKind } from '../fields/kinds.js';

/** A longer cell is prose, which nothing is named by. */
const longestName = 200;
/** Of the rows, how many can differ for a column to follow from another all the same. */
const mostDiffering = 0.02;
/** Rows that differ from the others with the same name are a slip where they are this part of them, or one. */
const slip = 0.15;
/** Of the names, how many can have rows that differ in more than a slip. */
const mostTorn = 0.01;
/** How probable it can be that something is so by chance alone: that any column seems to follow from any other, or one from a known thing. */
export const chance = { ofAny: 0.001, ofThing: 0.01 };

/** A name as it is compared with others: blanks and capitals make no difference. */
export const folded = (cell: string): string => cell.trim().replace(/\s+/gu, ' ').toLowerCase();

/** A column as numbers: the same number for the same text. Number 0 is the empty cell. */
export class CodedColumn {
  private readonly codes = new Map<string, number>([['', 0]]);
  private readonly firsts = new Map<string, number>([['', 0]]);
  readonly texts: string[] = [''];
  /** For each text its name: the number of the first text that is the same but for blanks and capitals. */
  readonly nameOf: number[] = [0];
  readonly rows: number[] = [];
  hasEmpty = false;
  isProse = false;

  see(cell: string): void {
    const text = cell.trim();
    if (text.length > longestName) this.isProse = true;
    if (this.isProse) return;
    if (text === '') this.hasEmpty = true;
    let code = this.codes.get(text);
    if (code === undefined) {
      code = this.texts.length;
      this.codes.set(text, code);
      this.texts.push(text);
      const name = folded(text);
      const first = this.firsts.get(name);
      if (first === undefined) this.firsts.set(name, code);
      this.nameOf.push(first ?? code);
    }
    this.rows.push(code);
  }

  /** Different names, without the empty one. */
  get names(): number {
    return this.firsts.size - 1;
  }
}

/** What one column says of another: rows that share a name, and those of them that would have to be changed. */
export interface Measure {
  /** Rows beyond the first with each name: so many times the file says again what it has said. */
  readonly repeated: number;
  /** The error g3, and rows that have the value but no name. */
  readonly differing: number;
  /** Names with repeated rows, and those of them that differ in more than a slip. */
  readonly names: number;
  readonly torn: number;
}

const nothing: Measure = { repeated: 0, differing: Infinity, names: 0, torn: 0 };

/** Rows by the name that a column has in them: those of one name are beside each other. */
export interface Grouped {
  readonly rows: Int32Array;
  /** Where each name begins; the empty one is first. */
  readonly starts: readonly number[];
}

export function grouped(column: CodedColumn): Grouped {
  const sizes = new Int32Array(column.texts.length + 1);
  const nameAt = (row: number): number => column.nameOf[column.rows[row] as number] as number;
  for (let row = 0; row < column.rows.length; row += 1) sizes[nameAt(row) + 1] = (sizes[nameAt(row) + 1] as number) + 1;
  for (let i = 1; i < sizes.length; i += 1) sizes[i] = (sizes[i] as number) + (sizes[i - 1] as number);
  const next = sizes.slice();
  const rows = new Int32Array(column.rows.length);
  for (let row = 0; row < column.rows.length; row += 1) {
    const name = nameAt(row);
    const at = next[name] as number;
    next[name] = at + 1;
    rows[at] = row;
  }
  const starts = [0];
  for (let name = 1; name < column.texts.length; name += 1) if ((sizes[name + 1] as number) > (sizes[name] as number)) starts.push(sizes[name] as number);
  return { rows, starts };
}

/** How well a column follows from the one that the rows are grouped by. */
export function measure({ rows, starts }: Grouped, of: CodedColumn, most: number): Measure {
  const seen = new Int32Array(of.texts.length);
  let [repeated, differing, names, torn] = [0, 0, 0, 0];
  const nameless = starts[1] ?? rows.length;
  for (let at = 0; at < nameless; at += 1) if (of.rows[rows[at] as number] !== 0) differing += 1;
  for (let group = 1; group < starts.length && differing <= most; group += 1) {
    const [from, end] = [starts[group] as number, starts[group + 1] ?? rows.length];
    const size = end - from;
    if (size < 2) continue;
    let largest = 0;
    for (let at = from; at < end; at += 1) {
      const code = of.rows[rows[at] as number] as number;
      const count = (seen[code] as number) + 1;
      seen[code] = count;
      if (count > largest) largest = count;
    }
    for (let at = from; at < end; at += 1) seen[of.rows[rows[at] as number] as number] = 0;
    names += 1;
    repeated += size - 1;
    differing += size - largest;
    if (size - largest > Math.max(1, slip * size)) torn += 1;
  }
  return differing > most ? nothing : { repeated, differing, names, torn };
}

/** How probable it is that two of these rows have the same text. */
function likeness(column: CodedColumn, rows: Iterable<number>): number {
  const counts = new Float64Array(column.texts.length);
  let all = 0;
  for (const row of rows) {
    const code = column.rows[row] as number;
    counts[code] = (counts[code] as number) + 1;
    all += 1;
  }
  return counts.reduce((sum, count) => sum + (count / all) ** 2, 0);
}

/**
 * How much speaks against chance, as the logarithm of a probability: so many times a text was the same again that is so likely
 * to be the same by chance, and so many times it was not.
 */
const evidence = (repeated: number, differing: number, likely: number): number =>
  (repeated - differing) * -Math.log(likely) - (differing === 0 ? 0 : differing * (1 + Math.log(repeated / differing)));

/** What records are named by: not by a day, an amount or a yes, even where something follows from it. */
export const isName = (kind: FieldKind | undefined): boolean => kind === 'text' || kind === 'choice' || kind === 'whole';

/** Which columns follow from which. */
export class Dependencies {
  private readonly groups = new Map<number, Grouped>();
  private readonly among = new Map<string, number>();
  private readonly measures: (readonly Measure[])[];

  constructor(
    private readonly columns: readonly CodedColumn[],
    kinds: readonly FieldKind[],
  ) {
    const rows = columns[0]?.rows.length ?? 0;
    const canName = columns.map((column, at) => isName(kinds[at]) && !column.isProse && column.names >= 2 && column.names * 1.5 <= rows);
    const likely = columns.map((column) => (column.isProse ? 1 : likeness(column, column.rows.keys())));
    const enough = -Math.log(chance.ofAny / columns.length ** 2);
    this.measures = columns.map((_, key) =>
      columns.map((of, at) => {
        const values = of.texts.length - (of.hasEmpty ? 0 : 1);
        const most = rows * mostDiffering;
        // As many names as values, but for those that differ: else it can't follow.
        if (!canName[key] || key === at || of.isProse || values < 2 || values > (columns[key] as CodedColumn).names + most + 1) return nothing;
        const found = measure(this.grouped(key), of, most);
        const isSure = found.torn <= found.names * mostTorn && evidence(found.repeated, found.differing, likely[at] as number) >= enough;
        return isSure ? found : nothing;
      }),
    );
  }

  grouped(key: number): Grouped {
    let known = this.groups.get(key);
    if (known === undefined) this.groups.set(key, (known = grouped(this.columns[key] as CodedColumn)));
    return known;
  }

  names(key: number): number {
    return (this.columns[key] as CodedColumn).names;
  }

  of(key: number, column: number): Measure {
    return this.measures[key]?.[column] ?? nothing;
  }

  follows(column: number, key: number): boolean {
    return this.of(key, column) !== nothing;
  }

  /**
   * Whether a column follows from a thing that belongs to another one, rather than only from that other one: from an apiary, and
   * not only from each of its hives. The rows of one of those others say the same, so it counts but once.
   */
  followsCloser(column: number, near: number, far: number, risk: number): boolean {
    const [own, other] = [this.of(near, column), this.of(far, column)];
    if (own === nothing || own.torn > other.torn || own.differing > other.differing + this.of(far, near).differing) return false;
    const key = `${far} ${column}`;
    let likely = this.among.get(key);
    if (likely === undefined) {
      const { rows, starts } = this.grouped(far);
      likely = likeness(
        this.columns[column] as CodedColumn,
        starts.slice(1).map((start) => rows[start] as number),
      );
      this.among.set(key, likely);
    }
    const repeated = this.names(far) - this.names(near);
    return evidence(repeated, 0, likely) >= -Math.log(risk);
  }

  /** Whether two columns name the same things. */
  areAlike(each: number, other: number): boolean {
    const [there, back] = [this.of(each, other), this.of(other, each)];
    return there !== nothing && back !== nothing && there.torn === 0 && back.torn === 0;
  }
}
