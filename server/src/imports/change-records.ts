/** The rows of a file that name records by their numbers: each changes what differs, as a save from a form would. */
import { randomUUID } from 'node:crypto';
import {
  isReference,
  kindOf,
  stored,
  type CellColumn,
  type Complaint,
  type Field,
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

type Change = Extract<Write, { readonly kind: 'change' }>;
const rowsPerSave = 500;

export class RecordChanges {
  private waiting: NumberedRow[] = [];
  /** The keys of the saves, in their order: undoing the import undoes them. */
  readonly saves: string[] = [];
  readonly changed = new Set<number>();
  unchanged = 0;

  constructor(
    private readonly runner: QueryRunner,
    private readonly app: OpenedApp,
    private readonly person: Person,
    private readonly table: Table,
    private readonly columns: readonly CellColumn[],
    /** The heading of the column with the numbers. */
    private readonly heading: string,
    private readonly complain: (complaint: Complaint) => void,
  ) {}

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
      this.person,
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
      if (typeof cell === 'object' && cell !== null) {
        const isSame = isReference(now) && now.caption.trim().toLowerCase() === cell.caption.toLowerCase();
        if (!isSame) this.complain({ line: row.line, column: name, value: cell.caption, reason: cell.problem });
      } else if (!saysTheSame(field, stored(field, cell), now)) values[field.id] = cell;
    }
    return values;
  }

  private async save(changes: readonly Change[], lines: readonly number[]): Promise<void> {
    const key = await saveOrTell(this.runner, this.app, this.person, changes, ({ write = 0, field = '', message }) => {
      const column = this.columns.find((one) => one.field.id === field);
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
