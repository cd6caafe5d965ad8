/** How the cells of each column of a file are read, and what those that name records or people are matched with. */
import {
  columnNames,
  compileCaptions,
  compileKeys,
  fieldOf,
  isStored,
  kindOf,
  parentOf,
  personAs,
  plainReading,
  queryOf,
  restrict,
  tableOf,
  type AppDesign,
  type CaptionIndex,
  type CellColumn,
  type NamedPerson,
  type Person,
} from '@bibliona/core';
import type { QueryRunner } from 'typeorm';
import { run } from '../db/run.js';
import { peopleOf } from '../records/people.js';
import type { OpenedJob } from './job.js';

const mostCaptions = 2_000_000;

export async function cellColumns(runner: QueryRunner, job: OpenedJob, design: AppDesign, schema: string): Promise<CellColumn[]> {
  const table = tableOf(design, job.plan.target.table);
  const columns: CellColumn[] = [];
  for (const [at, plan] of job.plan.columns.entries()) {
    if (plan.kind !== 'field' && plan.kind !== 'new') continue;
    const field = fieldOf(table, plan.kind === 'new' ? plan.field.id : plan.field);
    let captions: CaptionIndex | null = null;
    if (field.kind === 'reference') captions = await captionIndex(runner, job.person, design, schema, parentOf(design, field).id);
    if (kindOf(field).people !== undefined) captions = peopleIndex(await peopleOf(runner, job.appId, null));
    columns.push({
      name: columnName(job, at),
      at,
      field,
      reading: { ...(plan.reading ?? plainReading), zone: design.timeZone },
      captions,
    });
  }
  return columns;
}

/** What a column of the file is called in complaints. */
export const columnName = ({ survey }: OpenedJob, at: number): string => survey.columns[at]?.name ?? columnNames(null, at + 1)[at] ?? '';

/** The records of a table that a person sees, by what they are called; where that names none, by a field in which all differ. */
export async function captionIndex(runner: QueryRunner, person: Person, design: AppDesign, schema: string, table: string): Promise<CaptionIndex> {
  const query = restrict(queryOf(table, { limit: mostCaptions }), design, person, Date.now());
  const rows = await run<{ id: number; caption: string }>(runner, compileCaptions(query, design, schema));
  const index = new Map<string, number | null>();
  for (const row of rows) index.set(row.caption.toLowerCase(), index.has(row.caption.toLowerCase()) ? null : row.id);
  const unique = tableOf(design, table).fields.filter((field) => isStored(field) && field.unique && kindOf(field).cells.reader !== null);
  if (unique.length === 0) return index;
  const keys = await run<{ id: number; cells: readonly (string | null)[] }>(
    runner,
    compileKeys(
      [query, design, schema],
      unique.map((field) => field.id),
    ),
  );
  const captions = new Set(index.keys());
  for (const { id, cells } of keys)
    for (const cell of cells) {
      const key = cell?.trim().toLowerCase() ?? '';
      if (key === '' || captions.has(key)) continue;
      // What two fields have of different records names neither.
      index.set(key, index.has(key) && index.get(key) !== id ? null : id);
    }
  return index;
}

/** People as a file can name them: by name, by mail address, or both as mails have them. */
function peopleIndex(people: readonly NamedPerson[]): CaptionIndex {
  const index = new Map<string, string | null>();
  for (const person of people) {
    const value = personAs(person);
    for (const called of [value, person.mail]) index.set(called.toLowerCase(), value);
    const name = person.name.toLowerCase();
    index.set(name, index.has(name) ? null : value);
  }
  return index;
}
