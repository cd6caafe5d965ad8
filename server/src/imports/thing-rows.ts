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
  const { things, target } = job.plan;
  if (things.length === 0) return { rows: new Map(), settled: [], settledCount: 0 };
  const found = new Map(things.map((thing) => [thing, new Named(job, thing)]));
  let count = 0;
  await eachRow(job, onProgress, (cells, line) => {
    for (const named of found.values()) if (named.see(cells, line)) count += 1;
    if (count > mostThings)
      throw new Refusal('invalid', 'The file names more than 500,000 things that would get tables of their own. Import fewer of them so.');
    return null;
  });
  const rows = new Map<ThingPlan, readonly ThingRow[]>();
  const resolve = (within: string, owners: readonly ThingRow[] | null): void => {
    for (const [thing, named] of found) {
      if (thing.within !== within) continue;
      // What nothing refers to once slips are put right was a slip itself.
      const used = owners === null ? null : new Set(owners.map((row) => folded(cellText(job, row.cells, thing.key))));
      const own = named.rows(used);
      rows.set(thing, own);
      resolve(thing.table, own);
    }
  };
  resolve(target.table, null);
  const settled = new Settled(job, rows);
  if ([...found.values()].some((named) => named.differs))
    await eachRow(job, onProgress, (cells, line) => {
      settled.see(cells, line);
      return null;
    });
  return { rows, settled: settled.first, settledCount: settled.count };
}

/** What the columns of a row that are about a thing say, for each of its names. */
class Named {
  private readonly columns: readonly number[];
  private readonly known = new Map<string, { readonly line: number; readonly told: Told[] }>();
  private readonly chosen: ReadonlyMap<string, string>;
  /** Whether a row can say something else than will be taken. */
  differs: boolean;

  constructor(
    private readonly job: OpenedJob,
    private readonly thing: ThingPlan,
  ) {
    const inner = job.plan.things.filter((each) => each.within === thing.table).map((each) => each.key);
    this.columns = [thing.key, ...ownColumns(job, thing), ...inner];
    this.chosen = new Map(thing.chosen.map(({ column, name, value }) => [`${column} ${folded(name)}`, value]));
    this.differs = thing.chosen.length > 0;
  }

  /** Whether the row names one that no row before it has named. */
  see(cells: readonly string[], line: number): boolean {
    const name = folded(cellText(this.job, cells, this.thing.key));
    const known = this.known.get(name);
    if (known === undefined) {
      this.known.set(name, { line, told: this.columns.map((at) => ({ cell: (cells[at] ?? '').trim(), rows: 1, line })) });
      if (name === '') this.differs = true;
      return true;
    }
    for (let i = 0; i < this.columns.length; i += 1) {
      const told = known.told[i] as Told;
      const cell = (cells[this.columns[i] as number] ?? '').trim();
      if (told.cell === cell) told.rows += 1;
      else {
        this.differs = true;
        told.others ??= new Map();
        const other = told.others.get(cell);
        if (other === undefined) told.others.set(cell, { rows: 1, line });
        else other.rows += 1;
      }
    }
    return false;
  }

  /** @param used the names that are wanted; null: all of them */
  rows(used: ReadonlySet<string> | null): ThingRow[] {
    return [...this.known].flatMap(([name, { line, told }]) => {
      if (name === '' || used?.has(name) === false) return [];
      const cells: string[] = Array.from({ length: this.job.plan.columns.length }, () => '');
      for (const [i, at] of this.columns.entries()) cells[at] = this.chosen.get(`${at} ${name}`) ?? mostFrequent(told[i] as Told);
      return [{ name, cells, line }];
    });
  }
}

const ownColumns = ({ plan }: OpenedJob, thing: ThingPlan): readonly number[] => thing.columns.filter((at) => plan.columns[at]?.kind === 'new');

function mostFrequent({ cell, rows, line, others }: Told): string {
  let best = { cell, rows, line };
  for (const [other, said] of others ?? []) if (said.rows > best.rows || (said.rows === best.rows && said.line < best.line)) best = { cell: other, ...said };
  return best.cell;
}

/** Compares each row of the file with what the tables will say of it: what is not the same is told. */
class Settled {
  private readonly told = new Map<string, { rows: number; readonly complaint: Complaint }>();
  count = 0;
  private readonly byName: ReadonlyMap<ThingPlan, ReadonlyMap<string, ThingRow>>;
  private readonly columns: ReadonlyMap<ThingPlan, readonly number[]>;

  constructor(
    private readonly job: OpenedJob,
    rows: ReadonlyMap<ThingPlan, readonly ThingRow[]>,
  ) {
    this.byName = new Map([...rows].map(([thing, all]) => [thing, new Map(all.map((row) => [row.name, row]))]));
    this.columns = new Map([...rows.keys()].map((thing) => [thing, ownColumns(job, thing)]));
  }

  get first(): Complaint[] {
    return [...this.told.values()].map(({ rows, complaint }) =>
      rows === 1 ? complaint : { ...complaint, reason: `${complaint.reason} ${rows} rows have this value.` },
    );
  }

  see(cells: readonly string[], line: number): void {
    this.within(this.job.plan.target.table, null, cells, line);
  }

  /** @param owner what the things belong to, as it will be; null: the row itself */
  private within(table: string, owner: ThingRow | null, cells: readonly string[], line: number): void {
    for (const thing of this.job.plan.things) {
      if (thing.within !== table) continue;
      const own = this.byName.get(thing)?.get(folded(cellText(this.job, owner?.cells ?? cells, thing.key)));
      if (owner !== null) {
        const [cell, taken] = [(cells[thing.key] ?? '').trim(), own?.cells[thing.key] ?? ''];
        if (folded(cell) !== folded(taken)) this.tell(thing.key, cell, owner.name, line, this.taken(taken, this.isChosen(table, thing.key, owner.name)));
      }
      if (own === undefined) this.leaveOut(thing, columnName(this.job, thing.key), cells, line);
      else {
        for (const at of this.columns.get(thing) ?? []) {
          const [cell, taken] = [(cells[at] ?? '').trim(), own.cells[at] ?? ''];
          if (cell !== taken) this.tell(at, cell, own.name, line, this.taken(taken, this.isChosen(thing.table, at, own.name)));
        }
        this.within(thing.table, own, cells, line);
      }
    }
  }

  /** What a row says of something that it does not name. */
  private leaveOut(thing: ThingPlan, missing: string, cells: readonly string[], line: number): void {
    for (const at of this.columns.get(thing) ?? []) this.tell(at, (cells[at] ?? '').trim(), '', line, `is left out, because ${missing} is empty.`);
    for (const inner of this.job.plan.things) {
      if (inner.within !== thing.table) continue;
      this.tell(inner.key, (cells[inner.key] ?? '').trim(), '', line, `is left out, because ${missing} is empty.`);
      this.leaveOut(inner, missing, cells, line);
    }
  }

  private isChosen(table: string, column: number, name: string): boolean {
    const thing = this.job.plan.things.find((each) => each.table === table);
    return thing?.chosen.some((each) => each.column === column && folded(each.name) === name) === true;
  }

  private taken(value: string, isChosen: boolean): string {
    return `is taken as “${value}”, ${isChosen ? 'as chosen' : 'as in most rows'}.`;
  }

  private tell(column: number, cell: string, name: string, line: number, reason: string): void {
    // An empty cell of something that is not named says nothing.
    if (cell === '' && name === '') return;
    const key = JSON.stringify([column, name, cell]);
    const known = this.told.get(key);
    if (known !== undefined) {
      known.rows += 1;
      return;
    }
    this.count += 1;
    if (this.told.size < mostSettled)
      this.told.set(key, { rows: 1, complaint: { line, column: columnName(this.job, column), value: cell.slice(0, 200), reason } });
  }
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
