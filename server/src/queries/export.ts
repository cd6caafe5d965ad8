import type { Readable } from 'node:stream';
import { compileResult, restrictForExport, type ExportFormatName, type Person, type SavedQuery, type Value } from '@bibliona/core';
import type { Context } from 'koa';
import type { DataSource } from 'typeorm';
import { run } from '../db/run.js';
import { mustExport, pageOfRows, sendAs } from '../export/file.js';
import type { ExportRow } from '../export/formats/index.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { askedOf, columnsOf } from './read-query.js';

const mostResultRows = 100_000;

/** The answer of a saved query. @throws Refusal forbidden, invalid */
export async function exportAnswer(
  database: DataSource,
  context: Context,
  app: OpenedApp,
  person: Person,
  query: SavedQuery,
  format: ExportFormatName,
): Promise<Readable> {
  const table = app.design.tables.find((one) => one.id === query.table);
  if (table === undefined) throw new Refusal('not_found', 'This table no longer exists in the app.');
  mustExport(app, person, table);
  const asked = askedOf(query, app);
  const restricted = restrictForExport(asked, app.design, person, Date.now());
  const rows = await run<{ cells: Value[] }>(database, compileResult([restricted, app.design, app.schema], mostResultRows));
  async function* pages(): AsyncGenerator<readonly ExportRow[]> {
    for (let from = 0; from < rows.length; from += pageOfRows) yield rows.slice(from, from + pageOfRows).map((row) => row.cells);
  }
  const columns = columnsOf(query, asked).map(({ name, type }) => ({ name, type, isWords: !['number', 'date', 'boolean'].includes(type) }));
  return sendAs(context, format, { title: query.name, columns, pages: pages(), zone: app.design.timeZone });
}
