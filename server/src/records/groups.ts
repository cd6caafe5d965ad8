/** What the records of a list share: its groups with their sums, and the values by which it can be narrowed. */
import {
  compileResult,
  grouped,
  narrowingNode,
  NotInList,
  restrict,
  summedFields,
  valueNode,
  type Condition,
  type contract,
  type GroupAnswer,
  type List,
  type Narrowing,
  type Person,
  type Selection,
  type Value,
} from '@bibliona/core';
import type { z } from 'zod';
import { run, type Runner } from '../db/run.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { notAmong, withChosen } from './chosen-values.js';
import type { RecordReader } from './read.js';

interface Asker {
  readonly app: OpenedApp;
  readonly person: Person;
}

// More heads than this are no overview of a list.
const mostGroups = 500;
// So many values of a quick filter can be chosen from.
const mostValues = 50;

/** @throws Refusal bad_request when the list has no such field to group by */
export async function readGroups(
  runner: Runner,
  asker: Asker,
  reader: RecordReader,
  tableId: string,
  selection: Selection,
): Promise<z.output<typeof contract.readGroups.answer>> {
  const table = reader.table(tableId);
  const list = reader.list(table, selection);
  // What a formula gives can have become something that does not group or add up since the list was made.
  const fields = selection.by ?? list.groupBy.filter((field) => narrowingNode(asker.app.design, table.id, field) !== null);
  const sums = summedFields(list).filter((field) => valueNode(asker.app.design, table.id, field)?.type.kind === 'number');
  mustBeTold(reader, table.id, fields);
  const { where } = reader.selected(table, selection);
  const levels = await Promise.all(
    Array.from({ length: fields.length + 1 }, async (_, depth) => {
      const groups = await readLevel(runner, asker, list, where, fields.slice(0, depth), sums, 'values', mostGroups + 1);
      return { groups: groups.slice(0, mostGroups), more: groups.length > mostGroups };
    }),
  );
  return { by: [...fields], sums, levels };
}

export async function readQuickFilters(
  runner: Runner,
  asker: Asker,
  reader: RecordReader,
  tableId: string,
  selection: Selection,
): Promise<z.output<typeof contract.readQuickFilters.answer>> {
  const table = reader.table(tableId);
  const list = reader.list(table, selection);
  const { narrowed = [] } = selection;
  const counted = async (field: string, by: Narrowing[], most: number) => {
    const { where } = reader.selected(table, { ...selection, narrowed: by });
    const groups = await readLevel(runner, asker, list, where, [field], [], 'frequent', most);
    return groups.map(({ values: [value = null], count }) => ({ value, count }));
  };
  const filters = await Promise.all(
    list.quickFilters.map(async (field) => {
      const node = narrowingNode(asker.app.design, table.id, field);
      if (node === null) return [];
      // Its own choice is left out, so that a second value can be chosen beside the first.
      const others = narrowed.filter((each) => each.field !== field);
      const chosen = narrowed.flatMap((each) => (each.field === field && 'values' in each ? each.values : []));
      const frequent = await counted(field, others, mostValues + 1);
      const more = frequent.length > mostValues;
      const shown = frequent.slice(0, mostValues);
      // Where there are many values, the chosen ones may not be among the most frequent.
      const rare = more ? notAmong(shown, chosen) : [];
      const rest = rare.length === 0 ? [] : await counted(field, [...others, { field, values: rare }], rare.length);
      return [{ field, values: await withChosen(reader, node.type, chosen, [...shown, ...rest]), more }];
    }),
  );
  return { filters: filters.flat() };
}

/** Someone who is not told of a field can't group by it either. */
function mustBeTold(reader: RecordReader, table: string, fields: readonly string[]): void {
  if (!fields.every((field) => reader.isTold(table, field))) throw new Refusal('bad_request', 'This list has no such field to group by.');
}

async function readLevel(
  runner: Runner,
  { app, person }: Asker,
  list: List,
  where: Condition,
  by: readonly string[],
  sums: readonly string[],
  order: 'values' | 'frequent',
  most: number,
): Promise<readonly GroupAnswer[]> {
  try {
    const asked = grouped(app.design, list, where, by, sums, order);
    const source = [restrict(asked, app.design, person, Date.now()), app.design, app.schema] as const;
    const rows = await run<{ cells: readonly Value[] }>(runner, compileResult(source, { limit: most }));
    return rows.map(({ cells }) => ({
      values: cells.slice(0, by.length),
      count: Number(cells[by.length] ?? 0),
      sums: cells.slice(by.length + 1).map((sum) => (sum === null ? null : String(sum))),
    }));
  } catch (error) {
    if (error instanceof NotInList) throw new Refusal('bad_request', 'This list cannot be grouped by that field, or has no sum of it.');
    throw error;
  }
}
