/** The cells of a file that name several records: rows that were added get their pairs, and rows that name records by number get theirs changed. */
import {
  compileAdded,
  namesIn,
  relationshipOf,
  restrictForRules,
  type AppDesign,
  type CaptionIndex,
  type Complaint,
  type Permit,
  type Write,
} from '@bibliona/core';
import type { QueryRunner } from 'typeorm';
import { run } from '../db/run.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { linkFrom, pairsOf, type LinkFrom, type Pair } from '../records/pairs.js';
import { captionIndex, columnName } from './cell-columns.js';
import { ChangesRefused, saveOrTell } from './change-records.js';
import { cellText, Complaints, eachRow, type OpenedJob } from './job.js';

/** A column whose cells name records of another table. */
interface PairColumn extends LinkFrom {
  readonly name: string;
  readonly at: number;
  readonly captions: CaptionIndex;
}

async function pairColumns(runner: QueryRunner, job: OpenedJob, design: AppDesign, schema: string): Promise<readonly PairColumn[]> {
  const columns: PairColumn[] = [];
  for (const [at, plan] of job.plan.columns.entries()) {
    if (plan.kind !== 'link') continue;
    const from = linkFrom(design, relationshipOf(design, plan.relationship));
    if (from === null) throw new Refusal('stale_design', 'The design of the app has just changed. Read the file again.');
    columns.push({ ...from, name: columnName(job, at), at, captions: await captionIndex(runner, job.person, design, schema, from.to) });
  }
  return columns;
}

interface RowOfPairs {
  readonly record: number;
  readonly line: number;
  /** For each column what its cell names. */
  readonly named: readonly (readonly number[])[];
  readonly isNew: boolean;
}

const writesPerSave = 1000;

class Pairs {
  private waiting: RowOfPairs[] = [];
  private writes: Write[] = [];
  private lines: number[] = [];
  /** The keys of the saves that changed records from before, in their order: undoing the import undoes them. */
  readonly saves: string[] = [];
  /** The records that were there before and have other pairs now. */
  readonly changed = new Set<number>();

  /**
   * @param complain of a name that is no record's, and of what a save refuses
   * @param emptied of a name that is left out, where the plan says so
   */
  constructor(
    private readonly runner: QueryRunner,
    private readonly app: OpenedApp,
    private readonly job: OpenedJob,
    private readonly columns: readonly PairColumn[],
    private readonly complain: (complaint: Complaint) => void,
    private readonly emptied: (complaint: Complaint) => void,
  ) {}

  /** @param isNew whether the record was added by this import: then it has no pairs yet */
  async add(cells: readonly string[], line: number, record: number, isNew: boolean): Promise<void> {
    const named = this.columns.map(({ at, name, captions }) => {
      const { ids, misfits } = namesIn(cellText(this.job, cells, at), captions);
      // A name that is left out of a record that had it would take it away.
      const tell = isNew && this.job.plan.badCells === 'empty' ? this.emptied : this.complain;
      for (const misfit of misfits) tell({ line, column: name, value: misfit.name.slice(0, 200), reason: misfit.problem });
      return ids;
    });
    this.waiting.push({ record, line, named, isNew });
    if (this.waiting.length >= writesPerSave) await this.flush();
  }

  async flush(): Promise<void> {
    const rows = this.waiting;
    this.waiting = [];
    const [added, there] = [rows.filter((row) => row.isNew), rows.filter((row) => !row.isNew)];
    for (const [i, column] of this.columns.entries()) {
      for (const row of added) await this.tie(column, row, row.named[i] ?? [], []);
      // Undoing the import removes these records, and their pairs go with them.
      await this.save(false);
      const records = there.map((row) => row.record);
      const known = await pairsOf(this.runner, this.app, column, records, (query) => restrictForRules(query, this.app.design, this.job.person, Date.now()));
      for (const row of there) await this.tie(column, row, row.named[i] ?? [], known.get(row.record) ?? []);
      await this.save(true);
    }
  }

  /** What has to be written for a record to have just these pairs. */
  private async tie(column: PairColumn, { record, line, isNew }: RowOfPairs, named: readonly number[], before: readonly Pair[]): Promise<void> {
    const wanted = new Set(named);
    const has = new Set(before.map((pair) => pair.other.id));
    for (const pair of before) if (!wanted.has(pair.other.id)) this.write({ kind: 'remove', table: column.link, id: pair.id, rev: pair.rev }, line);
    for (const other of wanted) {
      if (has.has(other)) continue;
      this.write({ kind: 'add', table: column.link, as: `p${this.writes.length}`, values: { [column.own]: record, [column.other]: other } }, line);
      if (this.writes.length >= writesPerSave) await this.save(!isNew);
    }
    if (!isNew && (has.size !== wanted.size || [...has].some((id) => !wanted.has(id)))) this.changed.add(record);
  }

  private write(write: Write, line: number): void {
    this.writes.push(write);
    this.lines.push(line);
  }

  private async save(isUndone: boolean): Promise<void> {
    const [writes, lines] = [this.writes, this.lines];
    [this.writes, this.lines] = [[], []];
    if (writes.length === 0) return;
    const key = await saveOrTell(this.runner, this.app, this.job.person, writes, ({ write = 0, message }) => {
      const column = this.columns.find(({ link }) => link === writes[write]?.table);
      this.complain({ line: lines[write] ?? 0, column: column?.name ?? '', value: '', reason: message });
    });
    if (isUndone) this.saves.push(key);
  }
}

/** Goes through the file once more, when all rows have their records. @throws RowsRefused, Stopped, Refusal */
export async function pairRows(
  runner: QueryRunner,
  app: OpenedApp,
  job: OpenedJob,
  granted: Permit,
  /** Of each record that was added, in their order, the line of the file on which its row began. */
  lines: readonly number[],
  /** The records that other rows are about, by their lines. */
  matched: ReadonlyMap<number, number>,
  onProgress: (part: number) => Promise<void>,
): Promise<Pick<Pairs, 'saves' | 'changed'> & { readonly emptied: readonly Complaint[] }> {
  const columns = await pairColumns(runner, job, app.design, app.schema);
  if (columns.length === 0) return { saves: [], changed: new Set(), emptied: [] };
  const added = new Map<number, number>();
  for (const [i, row] of (await run<{ id: number }>(runner, compileAdded(granted, app.schema))).entries()) added.set(lines[i] ?? 0, row.id);
  const complaints = new Complaints();
  const emptied: Complaint[] = [];
  const pairs = new Pairs(runner, app, job, columns, complaints.add, (complaint) => emptied.push(complaint));
  try {
    await eachRow(job, onProgress, (cells, at) => {
      const record = added.get(at) ?? matched.get(at);
      return record === undefined ? null : pairs.add(cells, at, record, added.has(at));
    });
    await pairs.flush();
  } catch (error) {
    if (!(error instanceof ChangesRefused)) throw error;
  }
  complaints.refuse();
  return { saves: pairs.saves, changed: pairs.changed, emptied };
}
