/** The records that rows of a file are about. */
import {
  byFields,
  byNumber,
  changesRecords,
  compileKeys,
  fileFormats,
  keyOf,
  localeFor,
  queryOf,
  restrict,
  type AppDesign,
  type CellColumn,
  type RecordFinder,
} from '@bibliona/core';
import type { QueryRunner } from 'typeorm';
import { run } from '../db/run.js';
import { Refusal } from '../http/refusal.js';
import { numbersOf, type OpenedJob } from './job.js';

const mostRecords = 2_000_000;

export interface RowMatching {
  readonly find: RecordFinder | null;
  /** Whether rows without a record add one. */
  readonly canAdd: boolean;
  /** The records of the table before the import, where those that no row matches are removed. */
  readonly before: readonly number[];
}

export async function rowMatching(
  runner: QueryRunner,
  job: OpenedJob,
  design: AppDesign,
  schema: string,
  columns: readonly CellColumn[],
): Promise<RowMatching> {
  const { target, matching, reading } = job.plan;
  if (!changesRecords(job.plan)) return { find: null, canAdd: true, before: [] };
  const { mode, by, isLoose } = matching;
  const canAdd = mode !== 'update';
  const numbers = numbersOf(job);
  const isKnown = by.length > 0 || mode === 'replace';
  const source = [restrict(queryOf(target.table), design, job.person, Date.now()), design, schema] as const;
  const rows = isKnown ? await run<{ id: number; cells: readonly (string | null)[] }>(runner, compileKeys(source, by)) : [];
  if (rows.length > mostRecords)
    throw new Refusal('invalid', `The table has more than ${localeFor(design, job.person).count(mostRecords)} records. Match its rows by record number.`);
  const before = mode === 'replace' ? rows.map((row) => row.id) : [];
  if (numbers !== null) return { find: byNumber(numbers), canAdd, before };
  const keys = by.flatMap((id) => columns.find((column) => column.field.id === id) ?? []);
  const index = new Map<string, number | null>();
  for (const { id, cells } of rows) {
    const key = keyOf(keys, cells, isLoose);
    if (key !== null) index.set(key, index.has(key) ? null : id);
  }
  return { find: byFields(keys, index, { isLoose, isGuarded: fileFormats[reading.format].isGuarded }), canAdd, before };
}
