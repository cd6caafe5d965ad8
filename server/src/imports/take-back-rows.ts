/** What an import did to records, undone: those that it added go, those that it changed or removed are as they were. */
import { compileStayed, compileTakeBack, permit, tableOf, type AppDesign, type Person, type Table } from '@bibliona/core';
import type { QueryRunner } from 'typeorm';
import { pgErrorOf } from '../db/errors.js';
import { run } from '../db/run.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { takeBackWithin } from '../records/take-back.js';

interface DoneImport {
  readonly id: string;
  /** Who imported. */
  readonly by: number;
  /** The table of the rows first, then those of what the rows repeat, each after those whose records refer to it. */
  readonly tables: readonly string[];
  readonly began: string;
  readonly saves: readonly string[];
}

/**
 * Gives how many records stay, because they were changed since or one that stays refers to them.
 * @throws Refusal invalid (the table is gone, or other records refer to those of the import), forbidden
 */
export async function takeBackRows(runner: QueryRunner, app: OpenedApp, person: Person, { id, by, tables: ids, began, saves }: DoneImport): Promise<number> {
  const tables = ids.flatMap((each) => app.design.tables.filter((table) => table.id === each));
  if (tables[0]?.id !== ids[0]) throw new Refusal('invalid', 'The table of this import no longer exists in the app.');
  const granted = tables.map((table) => {
    const permitted = permit(app.design, { ...person, id: by }, table, 'remove');
    if (permitted === null) throw new Refusal('forbidden', `You don't have permission to remove records of ${table.name}.`);
    return permitted;
  });
  let stayed = 0;
  for (const [i, each] of granted.entries()) {
    // What the rows repeat is left where a record that stays still refers to it.
    const keptBy = i === 0 ? [] : referringTo(app.design, each.table.id);
    await run(runner, compileTakeBack(each, began, id, i, app.schema, keptBy)).catch((error: unknown) => {
      if (pgErrorOf(error).code === '23503') throw new Refusal('invalid', 'Other records refer to records of this import by now. Remove those first.');
      throw error;
    });
    const [row] = await run<{ count: number }>(runner, compileStayed(each, began, app.schema));
    stayed += row?.count ?? 0;
  }
  // What it removed comes back when what it added is gone: both can have the same value in a field that is unique.
  return stayed + (await takeBackWithin(runner, app, person, saves));
}

/** The fields that refer to records of a table, each with the table that it is in. */
const referringTo = (design: AppDesign, table: string): readonly (readonly [Table, string])[] =>
  design.relationships.flatMap((relationship) => (relationship.parent === table ? [[tableOf(design, relationship.child), relationship.field] as const] : []));
