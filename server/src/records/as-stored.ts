/** Records as they are in the database, whoever asks: for what must be decided, never for what is shown. */
import { compilePage, isStored, queryOf, restrictForRules, type Person, type Table, type Value } from '@bibliona/core';
import { run, type Runner } from '../db/run.js';
import type { OpenedApp } from '../http/serve.js';

export interface StoredRecord {
  readonly rev: number;
  /** By field id; a reference as the id of its record. */
  readonly values: Readonly<Record<string, Value>>;
}

/** Null when there is no such record. */
export async function asStored(
  runner: Runner,
  { design, schema }: Pick<OpenedApp, 'design' | 'schema'>,
  person: Person,
  table: Table,
  id: number,
): Promise<StoredRecord | null> {
  const fields = table.fields.filter(isStored);
  const query = queryOf(table.id, { columns: fields.map((field) => field.id), where: { kind: 'ids', ids: [id] }, limit: 1 });
  const [row] = await run<Record<string, Value | undefined> & { rev: number }>(
    runner,
    compilePage(restrictForRules(query, design, person, Date.now()), design, schema),
  );
  if (row === undefined) return null;
  const values = fields.map((field) => {
    const value = row[field.id] ?? null;
    return [field.id, typeof value === 'object' && value !== null ? value.id : value] as const;
  });
  return { rev: row.rev, values: Object.fromEntries(values) };
}
