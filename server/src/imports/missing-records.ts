/** Records that rows refer to and that are not there yet: made from their names, where the plan says so. */
import { randomUUID } from 'node:crypto';
import { kindOf, localeFor, namingField, parentOf, type CaptionIndex, type CellColumn, type Table, type Write } from '@bibliona/core';
import type { QueryRunner } from 'typeorm';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { saveWithin } from '../records/save.js';
import { captionIndex } from './cell-columns.js';
import { cellText, eachRow, type OpenedJob } from './job.js';

const mostMade = 20_000;
const writesPerSave = 500;
const mostNamed = 20;

export interface MadeRecords {
  readonly table: string;
  readonly count: number;
  readonly names: readonly string[];
}

export interface Missing {
  /** The columns, which know what was made. */
  readonly columns: readonly CellColumn[];
  readonly made: readonly MadeRecords[];
  readonly saves: readonly string[];
}

/** @throws Refusal when a record can't be made from its name, or there are too many; Stopped */
export async function makeMissing(
  runner: QueryRunner,
  app: OpenedApp,
  job: OpenedJob,
  columns: readonly CellColumn[],
  onProgress: (part: number) => Promise<void>,
): Promise<Missing> {
  const asking = columns.filter((column) => asksFor(job, column));
  if (asking.length === 0) return { columns, made: [], saves: [] };
  const wanted = await namesWanted(job, app, asking, onProgress);
  const indexes = new Map<string, CaptionIndex>();
  const made: MadeRecords[] = [];
  const saves: string[] = [];
  for (const [id, names] of wanted) {
    const parent = app.design.tables.find((table) => table.id === id);
    if (parent === undefined || names.size === 0) continue;
    const texts = [...names.values()];
    saves.push(...(await make(runner, app, job, parent, texts)));
    made.push({ table: id, count: texts.length, names: texts.slice(0, mostNamed) });
    indexes.set(id, await captionIndex(runner, job.person, app.design, app.schema, id));
  }
  const known = columns.map((column) => ({ ...column, captions: indexes.get(parentIdOf(app, column) ?? '') ?? column.captions }));
  return { columns: known, made, saves };
}

const asksFor = (job: OpenedJob, { at }: CellColumn): boolean => {
  const plan = job.plan.columns[at];
  return plan?.kind === 'field' && plan.missing === 'make';
};

const parentIdOf = ({ design }: OpenedApp, { field }: CellColumn): string | null => (field.kind === 'reference' ? parentOf(design, field).id : null);

/** For each table the names in the file that none of its records has, as they are first written. */
async function namesWanted(
  job: OpenedJob,
  app: OpenedApp,
  columns: readonly CellColumn[],
  onProgress: (part: number) => Promise<void>,
): Promise<ReadonlyMap<string, ReadonlyMap<string, string>>> {
  const wanted = new Map<string, Map<string, string>>();
  const asked = columns.map((column) => {
    const parent = parentIdOf(app, column) ?? '';
    const names = wanted.get(parent) ?? new Map<string, string>();
    wanted.set(parent, names);
    return { at: column.at, captions: column.captions, names };
  });
  await eachRow(job, onProgress, (cells) => {
    for (const { at, captions, names } of asked) {
      const name = cellText(job, cells, at).trim();
      const key = name.toLowerCase();
      if (name !== '' && captions?.has(key) !== true && !names.has(key)) names.set(key, name);
      if (names.size > mostMade)
        throw new Refusal('invalid', 'The file names more than 20,000 records that are not there. Import these into their own table first.');
    }
    return null;
  });
  return wanted;
}

async function make(runner: QueryRunner, app: OpenedApp, job: OpenedJob, parent: Table, names: readonly string[]): Promise<string[]> {
  const field = namingField(app.design, parent);
  if (field === undefined) throw new Refusal('invalid', `Records of ${parent.name} can't be made from a name alone. Add them first.`);
  const locale = localeFor(app.design, job.person);
  const writes = names.map((name, i): Write => {
    const parsed = kindOf(field).value.parse(name, field, locale);
    if (!parsed.ok) throw new Refusal('invalid', `${name} can't be the ${field.name} of a record of ${parent.name}: ${parsed.problem}.`);
    return { kind: 'add', table: parent.id, as: `made${i}`, values: { [field.id]: parsed.value as string } };
  });
  const saves: string[] = [];
  for (let from = 0; from < writes.length; from += writesPerSave) {
    const key = randomUUID();
    const part = writes.slice(from, from + writesPerSave);
    await saveWithin(runner, app, job.person, key, part).catch((error: unknown) => {
      if (!(error instanceof Refusal)) throw error;
      const [issue] = error.issues;
      const name = names[from + (issue?.write ?? 0)] ?? '';
      throw new Refusal(
        'invalid',
        `${name} can't be added to ${parent.name}: ${(issue?.message ?? error.message).replace(/\.$/u, '')}. Add it first, or correct the file.`,
      );
    });
    saves.push(key);
  }
  return saves;
}
