/** Records and answers as files: read page by page, each record once, and sent as they are read. */
import { Readable } from 'node:stream';
import {
  compilePage,
  compileResult,
  csvLine,
  kindOf,
  queryOf,
  recordHeading,
  restrictForExport,
  rightsOf,
  type Cursor,
  type Field,
  type Person,
  type Query,
  type SavedQuery,
  type Table,
  type Value,
} from '@bibliona/core';
import type { Context } from 'koa';
import type { DataSource } from 'typeorm';
import { run } from '../db/run.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { askedOf, columnsOf } from '../queries/read-query.js';

const pageOfRows = 1000;
const firstPage = 20;
// Records with long texts are read in smaller pages, so that about so many characters are in memory at once.
const pageOfSigns = 8_000_000;
const mostResultRows = 100_000;
// Tells spreadsheets that the text is UTF-8.
const byteOrderMark = '\uFEFF';

type PageRow = Record<string, unknown> & { readonly id: number; readonly __key: Cursor['value'] };

/** @throws Refusal forbidden */
function mustExport(app: OpenedApp, person: Person, table: Table): void {
  if (!rightsOf(app.design, person, table).export) throw new Refusal('forbidden', `You may not save records of ${table.name} as a file.`);
}

function send(context: Context, name: string, lines: AsyncIterable<string>): Readable {
  context.type = 'text/csv; charset=utf-8';
  context.attachment(`${name.replace(/[^\p{L}\p{N} ._-]/gu, ' ').trim() || 'records'}.csv`);
  return Readable.from(lines);
}

/** The records of a list, each with its number: by that an import finds them again. @throws Refusal forbidden */
export function exportRecords(
  database: DataSource,
  context: Context,
  app: OpenedApp,
  person: Person,
  table: Table,
  picked: Pick<Query, 'where' | 'sort'>,
): Readable {
  mustExport(app, person, table);
  const { hidden } = rightsOf(app.design, person, table);
  const fields = table.fields.filter((field) => !hidden.includes(field.id));
  return send(context, table.name, recordLines(database, app, person, table, fields, picked));
}

async function* recordLines(
  database: DataSource,
  app: OpenedApp,
  person: Person,
  table: Table,
  fields: readonly Field[],
  picked: Pick<Query, 'where' | 'sort'>,
): AsyncGenerator<string> {
  yield byteOrderMark + csvLine([recordHeading(table), ...fields.map((field) => field.name)], () => true);
  const columns = fields.map((field) => field.id);
  const isText = (place: number): boolean => {
    const field = fields[place - 1];
    return field !== undefined && kindOf(field).traits.words;
  };
  let after: Cursor | null = null;
  let limit = firstPage;
  do {
    const query: Query = queryOf(table.id, { ...picked, columns, after, limit });
    const restricted = restrictForExport(query, app.design, person, Date.now());
    const rows: readonly PageRow[] = await run<PageRow>(database, compilePage(restricted, app.design, app.schema));
    const lines = rows.map((row) =>
      csvLine([row.id, ...fields.map((field) => kindOf(field).value.exported((row[field.id] as Value | undefined) ?? null, field))], isText),
    );
    yield lines.join('');
    const last = rows.at(-1);
    after = last === undefined || rows.length < limit ? null : { value: last.__key, id: last.id };
    const longest = Math.max(1, ...lines.map((line) => line.length));
    limit = Math.max(1, Math.min(pageOfRows, Math.floor(pageOfSigns / longest)));
  } while (after !== null);
}

/** The answer of a saved query. @throws Refusal forbidden, invalid */
export async function exportAnswer(database: DataSource, context: Context, app: OpenedApp, person: Person, query: SavedQuery): Promise<Readable> {
  const table = app.design.tables.find((one) => one.id === query.table);
  if (table === undefined) throw new Refusal('not_found', 'There is no such table in this app any more.');
  mustExport(app, person, table);
  const asked = askedOf(query, app);
  const restricted = restrictForExport(asked, app.design, person, Date.now());
  const rows = await run<{ cells: Value[] }>(database, compileResult([restricted, app.design, app.schema], mostResultRows));
  const columns = columnsOf(query, asked);
  const isText = (place: number): boolean => !['number', 'date', 'boolean'].includes(columns[place]?.type ?? '');
  async function* lines(): AsyncGenerator<string> {
    yield (
      byteOrderMark +
      csvLine(
        columns.map((column) => column.name),
        () => true,
      )
    );
    for (let from = 0; from < rows.length; from += pageOfRows)
      yield rows
        .slice(from, from + pageOfRows)
        .map((row) => csvLine(row.cells, isText))
        .join('');
  }
  return send(context, query.name, lines());
}
