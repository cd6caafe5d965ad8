/** Records as files: read page by page, each record once, and sent as they are read. */
import type { Readable } from 'node:stream';
import {
  compilePage,
  csvLine,
  designFor,
  kindOf,
  linksOf,
  queryOf,
  recordHeading,
  restrictForExport,
  rightsOf,
  type Cursor,
  type Field,
  type Person,
  type Query,
  type Table,
  type Value,
} from '@bibliona/core';
import type { Context } from 'koa';
import type { DataSource } from 'typeorm';
import { run } from '../db/run.js';
import { byteOrderMark, mustExport, pageOfRows, send } from '../export/file.js';
import type { OpenedApp } from '../http/serve.js';
import { namesOf } from './pairs.js';
import { placeOf, type Picking, type PlaceRow } from './read.js';

const firstPage = 20;
// Records with long texts are read in smaller pages, so that about so many characters are in memory at once.
const pageOfSigns = 8_000_000;

type PageRow = Record<string, unknown> & PlaceRow;

/** The records of a list, each with its number: by that an import finds them again. @throws Refusal forbidden */
export function exportRecords(database: DataSource, context: Context, app: OpenedApp, person: Person, table: Table, picked: Picking): Readable {
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
  picked: Picking,
): AsyncGenerator<string> {
  const links = linksOf(designFor(app.design, person), table.id);
  yield byteOrderMark + csvLine([recordHeading(table), ...fields.map((field) => field.name), ...links.map((one) => one.childrenName)], () => true);
  const columns = fields.map((field) => field.id);
  const isText = (place: number): boolean => {
    const field = fields[place - 1];
    return field === undefined ? place > 0 : kindOf(field).traits.words;
  };
  let after: Cursor | null = null;
  let limit = firstPage;
  do {
    const query: Query = queryOf(table.id, { ...picked, columns, after, limit });
    const restricted = restrictForExport(query, app.design, person, Date.now());
    const rows: readonly PageRow[] = await run<PageRow>(database, compilePage(restricted, app.design, app.schema));
    const named = await namesOf(
      database,
      app,
      person,
      links,
      rows.map((row) => row.id),
      null,
    );
    const lines = rows.map((row) => {
      const values = fields.map((field) => kindOf(field).value.exported((row[field.id] as Value | undefined) ?? null, field));
      return csvLine([row.id, ...values, ...named.map((names) => names.get(row.id) ?? null)], isText);
    });
    yield lines.join('');
    const last = rows.at(-1);
    after = last === undefined || rows.length < limit ? null : placeOf(last);
    const longest = Math.max(1, ...lines.map((line) => line.length));
    limit = Math.max(1, Math.min(pageOfRows, Math.floor(pageOfSigns / longest)));
  } while (after !== null);
}
