/** The rows of a file that are about records: each changes what differs, as a save from a form would. */
import { randomUUID } from 'node:crypto';
import {
  isReference,
  cutMark,
  kindOf,
  localeFor,
  rowConverter,
  stored,
  type CellColumn,
  type Complaint,
  type Field,
  type Locale,
  type NumberedRow,
  type Person,
  type PlacedIssue,
  type Table,
  type Value,
  type Write,
  type WrittenValue,
} from '@bibliona/core';
import type { QueryRunner } from 'typeorm';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { storedRecords, type ShownRecord } from '../records/as-stored.js';
import { saveWithin } from '../records/save.js';
import { Complaints, conversionOf, eachRow, numbersOf, type OpenedJob } from './job.js';

type Change = Extract<Write, { readonly kind: 'change' }>;
const rowsPerSave = 500;

/** What an import changes in one field. */
export interface ChangedField {
  readonly field: string;
  /** In so many records. */
  readonly count: number;
  /** The first of them, with the values as they are shown. */
  readonly examples: readonly { readonly line: number; readonly before: string; readonly after: string }[];
}
const mostExamples = 5;

export interface RecordsChanged {
  readonly changed: ReadonlySet<number>;
  readonly unchanged: number;
  readonly saves: readonly string[];
  readonly fields: readonly ChangedField[];
}

/** Goes through the file again for the rows that are about records. @throws RowsRefused, Stopped, Refusal */
export async function changeRows(
  runner: QueryRunner,
  app: OpenedApp,
  job: OpenedJob,
  table: Table,
  columns: readonly CellColumn[],
  matched: ReadonlyMap<number, number>,
  onProgress: (part: number) => Promise<void>,
): Promise<RecordsChanged> {
  if (matched.size === 0) return { changed: new Set(), unchanged: 0, saves: [], fields: [] };
  const complaints = new Complaints();
  const ignore = (): void => undefined;
  // Every cell has been complained of while the other rows were added.
  const convert = rowConverter({
    ...conversionOf(job),
    columns,
    find: (_, line) => matched.get(line) ?? null,
    canAdd: false,
    tail: '',
    taken: new Map(),
    complain: ignore,
    emptied: ignore,
  });
  const changes = new RecordChanges(runner, app, job, table, columns, complaints.add);
  try {
    await eachRow(job, onProgress, (cells, at) => {
      const row = convert(cells, at);
      return typeof row === 'object' && row?.kind === 'numbered' ? changes.add(row) : null;
    });
    await changes.flush();
  } catch (error) {
    if (!(error instanceof ChangesRefused)) throw error;
  }
  complaints.refuse();
  return changes.result();
}

/** Removes records that no row of the file is about, and gives the keys of the saves. @throws Refusal */
export async function removeRecords(runner: QueryRunner, app: OpenedApp, person: Person, table: Table, ids: readonly number[]): Promise<readonly string[]> {
  const saves: string[] = [];
  for (let from = 0; from < ids.length; from += rowsPerSave) {
    const records = await storedRecords(runner, app, person, table, ids.slice(from, from + rowsPerSave));
    const writes = [...records].map(([id, { rev }]): Write => ({ kind: 'remove', table: table.id, id, rev }));
    const key = randomUUID();
    await saveWithin(runner, app, person, key, writes);
    saves.push(key);
  }
  return saves;
}

class RecordChanges {
  private waiting: NumberedRow[] = [];
  /** The keys of the saves, in their order: undoing the import undoes them. */
  private readonly saves: string[] = [];
  private readonly changed = new Set<number>();
  private unchanged = 0;
  private readonly fields = new Map<string, { count: number; examples: ChangedField['examples'][number][] }>();
  private readonly locale: Locale;

  constructor(
    private readonly runner: QueryRunner,
    private readonly app: OpenedApp,
    private readonly job: OpenedJob,
    private readonly table: Table,
    private readonly columns: readonly CellColumn[],
    private readonly complain: (complaint: Complaint) => void,
  ) {
    this.locale = localeFor(app.design, job.person);
  }

  result(): RecordsChanged {
    const fields = [...this.fields].map(([field, { count, examples }]) => ({ field, count, examples }));
    return { changed: this.changed, unchanged: this.unchanged, saves: this.saves, fields };
  }

  /** The heading of the column that names a record. */
  private get heading(): string {
    return numbersOf(this.job)?.name ?? this.columns.find((column) => this.job.plan.matching.by.includes(column.field.id))?.name ?? '';
  }

  async add(row: NumberedRow): Promise<void> {
    this.waiting.push(row);
    if (this.waiting.length >= rowsPerSave) await this.flush();
  }

  async flush(): Promise<void> {
    const rows = this.waiting;
    this.waiting = [];
    if (rows.length === 0) return;
    const records = await storedRecords(
      this.runner,
      this.app,
      this.job.person,
      this.table,
      rows.map((row) => row.record),
    );
    const changes: Change[] = [];
    const lines: number[] = [];
    for (const row of rows) {
      const record = records.get(row.record);
      if (record === undefined) {
        const reason = `is the number of no record in ${this.table.name}. To add the row, leave this cell empty`;
        this.complain({ line: row.line, column: this.heading, value: String(row.record), reason });
        continue;
      }
      const values = this.difference(row, record);
      if (Object.keys(values).length === 0) {
        this.unchanged += 1;
        continue;
      }
      changes.push({ kind: 'change', table: this.table.id, id: row.record, rev: record.rev, values });
      lines.push(row.line);
    }
    if (changes.length > 0) await this.save(changes, lines);
  }

  /** What of a row is not yet so in its record. */
  private difference(row: NumberedRow, record: ShownRecord): Record<string, WrittenValue> {
    const values: Record<string, WrittenValue> = {};
    for (const [at, { field, name }] of this.columns.entries()) {
      const now = record.values[field.id] ?? null;
      const cell = row.cells[at] ?? null;
      // What counts as the same where rows are matched is no change.
      if (this.isLeft(cell) || this.job.plan.matching.by.includes(field.id)) continue;
      if (typeof cell === 'object' && cell !== null) {
        const isSame = isReference(now) && now.caption.trim().toLowerCase() === cell.caption.toLowerCase();
        if (!isSame) this.complain({ line: row.line, column: name, value: cell.caption, reason: cell.problem });
      } else if (!saysTheSame(field, stored(field, cell), now)) {
        values[field.id] = cell;
        this.note(field, row.line, now, cell);
      }
    }
    return values;
  }

  /** Whether a cell says nothing of its field. */
  private isLeft(cell: NumberedRow['cells'][number]): boolean {
    return cell === null ? this.job.plan.emptyCells === 'keep' : typeof cell === 'string' && cell.endsWith(cutMark);
  }

  private note(field: Field, line: number, before: Value, after: Value): void {
    const noted = this.fields.get(field.id) ?? { count: 0, examples: [] };
    this.fields.set(field.id, noted);
    noted.count += 1;
    const { print } = kindOf(field).value;
    const shown = (value: Value): string => print(value, field, this.locale).slice(0, 200);
    if (noted.examples.length < mostExamples) noted.examples.push({ line, before: shown(before), after: shown(after) });
  }

  private async save(changes: readonly Change[], lines: readonly number[]): Promise<void> {
    const key = await saveOrTell(this.runner, this.app, this.job.person, changes, ({ write = 0, field = '', message }) => {
      const column = this.columns.find((cellColumn) => cellColumn.field.id === field);
      const value = changes[write]?.values[field] ?? '';
      this.complain({ line: lines[write] ?? 0, column: column?.name ?? this.heading, value: String(value), reason: message });
    });
    this.saves.push(key);
    for (const change of changes) this.changed.add(change.id);
  }
}

/** Raised when a save was refused: the complaints say why. */
export class ChangesRefused extends Error {}

/** Saves within an import and gives the key of the save. @throws ChangesRefused once each issue has been told */
export async function saveOrTell(
  runner: QueryRunner,
  app: OpenedApp,
  person: Person,
  writes: readonly Write[],
  tell: (issue: PlacedIssue) => void,
): Promise<string> {
  const key = randomUUID();
  try {
    await saveWithin(runner, app, person, key, writes);
  } catch (error) {
    if (!(error instanceof Refusal) || error.issues.length === 0) throw error;
    error.issues.forEach(tell);
    // The statements of this save are lost, and after some errors the transaction with them.
    throw new ChangesRefused();
  }
  return key;
}

/** Whether a cell says what the record says: a formatted text is exported as its words, and keeps its formats when they come back as they were. */
function saysTheSame(field: Field, cell: Value, now: Value): boolean {
  const { same, exported } = kindOf(field).value;
  return same(cell, now) || (cell !== null && now !== null && exported(cell, field) === exported(now, field));
}
