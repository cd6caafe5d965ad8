/** Records as they are in the database, no matter who asks: for what must be decided, never for what is shown. */
import { written, compilePage, isStored, queryOf, restrictForRules, type Person, type Table, type Value } from '@bibliona/core';
import { run, type Runner } from '../db/run.js';
import type { OpenedApp } from '../http/serve.js';

export interface StoredRecord {
  readonly rev: number;
  /** By field id; a reference as the id of its record. */
  readonly values: Readonly<Record<string, Value>>;
}

/** A record with references as the records that they name. */
export interface ShownRecord {
  readonly rev: number;
  readonly values: Readonly<Record<string, Value>>;
}

/** By their numbers; records that do not exist are missing. */
export async function storedRecords(
  runner: Runner,
  { design, schema }: Pick<OpenedApp, 'design' | 'schema'>,
  person: Person,
  table: Table,
  ids: readonly number[],
): Promise<ReadonlyMap<number, ShownRecord>> {
  const fields = table.fields.filter(isStored);
  const query = queryOf(table.id, { columns: fields.map((field) => field.id), where: { kind: 'ids', ids }, limit: ids.length });
  const rows = await run<Record<string, Value | undefined> & { readonly id: number; readonly rev: number }>(
    runner,
    compilePage(restrictForRules(query, design, person, Date.now()), design, schema),
  );
  return new Map(rows.map((row) => [row.id, { rev: row.rev, values: Object.fromEntries(fields.map((field) => [field.id, row[field.id] ?? null])) }]));
}

/** Null when there is no such record. */
export async function asStored(
  runner: Runner,
  app: Pick<OpenedApp, 'design' | 'schema'>,
  person: Person,
  table: Table,
  id: number,
): Promise<StoredRecord | null> {
  const record = (await storedRecords(runner, app, person, table, [id])).get(id);
  if (record === undefined) return null;
  const values = Object.entries(record.values).map(([field, value]) => [field, written(value)] as const);
  return { rev: record.rev, values: Object.fromEntries(values) };
}
