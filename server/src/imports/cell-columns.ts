/** How the cells of each column of a file are read, and what those that name records or people are matched with. */
import {
  columnNames,
  compileCaptions,
  fieldOf,
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
} from '@bibliona/core';
import type { QueryRunner } from 'typeorm';
import { run } from '../db/run.js';
import { peopleOf } from '../records/people.js';
import type { ImportJob } from './run-import.js';

const mostCaptions = 2_000_000;

export async function cellColumns(runner: QueryRunner, job: ImportJob, design: AppDesign, schema: string): Promise<CellColumn[]> {
  const table = tableOf(design, job.plan.target.table);
  const names = job.survey.columns.map((column) => column.name);
  const columns: CellColumn[] = [];
  for (const [at, plan] of job.plan.columns.entries()) {
    if (plan.kind === 'skip' || plan.kind === 'record') continue;
    const field = fieldOf(table, plan.kind === 'new' ? plan.field.id : plan.field);
    let captions: CaptionIndex | null = null;
    if (field.kind === 'reference') {
      const parent = parentOf(design, field);
      const rows = await run<{ id: number; caption: string }>(
        runner,
        compileCaptions(restrict(queryOf(parent.id, { limit: mostCaptions }), design, job.person, Date.now()), design, schema),
      );
      const index = new Map<string, number | null>();
      for (const row of rows) index.set(row.caption.toLowerCase(), index.has(row.caption.toLowerCase()) ? null : row.id);
      captions = index;
    }
    if (kindOf(field).people !== undefined) captions = peopleIndex(await peopleOf(runner, job.appId, null));
    columns.push({
      name: names[at] ?? columnNames(null, at + 1)[at] ?? '',
      at,
      field,
      reading: { ...(plan.reading ?? plainReading), zone: design.timeZone },
      captions,
    });
  }
  return columns;
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
