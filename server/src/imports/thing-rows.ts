/** The rows of a file that say something of the same things, as one row for each thing. */
import { folded, type Complaint, type ThingPlan } from '@bibliona/core';
import { Refusal } from '../http/refusal.js';
import type { FileStart } from './formats/index.js';
import { cellText, eachRow, type OpenedJob } from './job.js';
import { columnName } from './cell-columns.js';

/** So many things are kept in memory, of all tables together. */
const mostThings = 500_000;
const mostSettled = 500;

interface Said {
  rows: number;
  line: number;
}
/** What rows say in one column of one thing. Most say the same: the first value is kept without a map. */
interface Told extends Said {
  readonly cell: string;
  others?: Map<string, Said>;
}

export interface ThingRow {
  /** What it is called, without capitals. */
  readonly name: string;
  /** As wide as a row of the file; only what is about the thing is filled. */
  readonly cells: readonly string[];
  /** The first line that names it. */
  readonly line: number;
}

export interface ThingRows {
  /** For each thing its rows, in the order in which the file names them. */
  readonly rows: ReadonlyMap<ThingPlan, readonly ThingRow[]>;
  /** Cells that are not taken, because other rows of the same thing say something else. */
  readonly settled: readonly Complaint[];
  readonly settledCount: number;
}

/** @throws Refusal when there are too many to keep; Stopped */
export async function thingRows(job: OpenedJob, onProgress: (part: number) => Promise<void>): Promise<ThingRows> {
  const { things } = job.plan;
  if (things.length === 0) return { rows: new Map(), settled: [], settledCount: 0 };
  const found = new Map(things.map((thing) => [thing, new Named(job, thing)]));
  let count = 0;
  await eachRow(job, onProgress, (cells, line) => {
    for (const named of found.values()) if (named.see(cells, line)) count += 1;
    if (count > mostThings)
      throw new Refusal('invalid', 'The file names more than 500,000 things that would get tables of their own. Import fewer of them so.');
    return null;
  });
  const settled = new Settled(job);
  const rows = new Map<ThingPlan, readonly ThingRow[]>();
  const resolve = (within: string, owners: readonly ThingRow[] | null): void => {
    for (const [thing, named] of found) {
      if (thing.within !== within) continue;
      // What nothing refers to once slips are put right was a slip itself.
      const used = owners === null ? null : new Set(owners.map((row) => folded(cellText(job, row.cells, thing.key))));
      const own = named.rows(used, settled);
      rows.set(thing, own);
      resolve(thing.table, own);
    }
  };
  resolve(job.plan.target.table, null);
  return { rows, settled: settled.first, settledCount: settled.count };
}

class Settled {
  readonly first: Complaint[] = [];
  count = 0;
  constructor(private readonly job: OpenedJob) {}

  tell(column: number, cell: string, { rows, line }: Said, reason: string): void {
    this.count += 1;
    if (this.first.length >= mostSettled) return;
    const others = rows === 1 ? '' : ` ${rows} rows have this value.`;
    this.first.push({ line, column: columnName(this.job, column), value: cell.slice(0, 200), reason: `${reason}${others}` });
  }
}

/** The things of one kind by their names. */
class Named {
  private readonly columns: readonly number[];
  /** Of them those with names, which can be written in several ways. */
  private readonly names: ReadonlySet<number>;
  private readonly known = new Map<string, { readonly line: number; readonly told: Told[] }>();
  private readonly chosen: ReadonlyMap<string, string>;

  constructor(
    private readonly job: OpenedJob,
    private readonly thing: ThingPlan,
  ) {
    const inner = job.plan.things.filter((one) => one.within === thing.table).map((one) => one.key);
    this.columns = [thing.key, ...thing.columns.filter((at) => job.plan.columns[at]?.kind === 'new'), ...inner];
    this.names = new Set([thing.key, ...inner]);
    this.chosen = new Map(thing.chosen.map(({ column, name, value }) => [`${column} ${folded(name)}`, value]));
  }

  /** Whether the row names one that no row before it has named. */
  see(cells: readonly string[], line: number): boolean {
    const name = folded(cellText(this.job, cells, this.thing.key));
    const known = this.known.get(name);
    if (known === undefined) {
      this.known.set(name, { line, told: this.columns.map((at) => ({ cell: (cells[at] ?? '').trim(), rows: 1, line })) });
      return true;
    }
    for (let i = 0; i < this.columns.length; i += 1) {
      const told = known.told[i] as Told;
      const cell = (cells[this.columns[i] as number] ?? '').trim();
      if (told.cell === cell) told.rows += 1;
      else {
        told.others ??= new Map();
        const other = told.others.get(cell);
        if (other === undefined) told.others.set(cell, { rows: 1, line });
        else other.rows += 1;
      }
    }
    return false;
  }

  /** @param used the names that are wanted; null: all of them */
  rows(used: ReadonlySet<string> | null, settled: Settled): ThingRow[] {
    const key = columnName(this.job, this.thing.key);
    return [...this.known].flatMap(([name, { line, told }]) => {
      if (name === '') {
        // Rows that say something of a thing without naming it.
        for (const [i, at] of this.columns.entries())
          for (const [cell, said] of valuesOf(told[i] as Told)) if (cell !== '') settled.tell(at, cell, said, `is left out, because ${key} is empty.`);
        return [];
      }
      if (used?.has(name) === false) return [];
      const cells: string[] = Array.from({ length: this.job.plan.columns.length }, () => '');
      for (const [i, at] of this.columns.entries()) cells[at] = this.settle(name, at, told[i] as Told, settled);
      return [{ name, cells, line }];
    });
  }

  /** The value that was chosen, or that most rows have. */
  private settle(name: string, at: number, told: Told, settled: Settled): string {
    const chosen = this.chosen.get(`${at} ${name}`);
    if (told.others === undefined && chosen === undefined) return told.cell;
    const values = [...valuesOf(told)].sort(([, a], [, b]) => b.rows - a.rows || a.line - b.line);
    const taken = chosen ?? values[0]?.[0] ?? '';
    const isSame = (cell: string): boolean => cell === taken || (this.names.has(at) && folded(cell) === folded(taken));
    for (const [cell, said] of values)
      if (!isSame(cell)) settled.tell(at, cell, said, `is taken as “${taken}”${chosen === undefined ? ', as in most rows' : ', as chosen'}.`);
    return taken;
  }
}

function* valuesOf({ cell, rows, line, others }: Told): Generator<readonly [cell: string, said: Said]> {
  yield [cell, { rows, line }];
  if (others !== undefined) yield* others;
}

/** Rows that are in memory, as those of a file. */
export const startOfRows = (of: FileStart, rows: readonly ThingRow[]): FileStart => ({
  ...of,
  rows: async (onRows) => {
    for (let from = 0; from < rows.length; from += 1000) {
      const part = rows.slice(from, from + 1000);
      await onRows(
        part.map((row) => [...row.cells]),
        part.map((row) => row.line),
        Math.min(1, (from + part.length) / rows.length),
      );
    }
  },
});
