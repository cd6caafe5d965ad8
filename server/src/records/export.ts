/** Records as files: read page by page, each record once, and sent as they are read. */
import type { Readable } from 'node:stream';
import {
  compilePage,
  designFor,
  kindOf,
  linksOf,
  queryOf,
  recordHeading,
  restrictForExport,
  rightsOf,
  typeOfField,
  type AppDesign,
  type Cursor,
  type ExportFormatName,
  type Field,
  type Person,
  type Query,
  type Relationship,
  type Table,
  type Value,
} from '@bibliona/core';
import type { Context } from 'koa';
import type { DataSource } from 'typeorm';
import { run } from '../db/run.js';
import { mustExport, pageOfRows, sendAs } from '../export/file.js';
import type { ExportColumn, ExportRow } from '../export/formats/index.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { namesOf } from './pairs.js';
import { placeOf, type Picking, type PlaceRow } from './read.js';

const firstPage = 20;
// Records with long texts are read in smaller pages, so that about so many characters are in memory at once.
const pageOfSigns = 8_000_000;

type PageRow = Record<string, unknown> & PlaceRow;

export interface AskedExport {
  readonly format: ExportFormatName;
  /** Fields in this order; absent: all of them and the lists of linked records. */
  readonly columns?: readonly string[] | undefined;
}

/** The records of a list, each with its number: by that an import finds them again. @throws Refusal forbidden, invalid */
export function exportRecords(
  database: DataSource,
  context: Context,
  app: OpenedApp,
  person: Person,
  table: Table,
  picked: Picking,
  { format, columns: wanted }: AskedExport,
): Readable {
  mustExport(app, person, table);
  const { hidden } = rightsOf(app.design, person, table);
  const seen = table.fields.filter((field) => !hidden.includes(field.id));
  const fields = wanted === undefined ? seen : wanted.flatMap((id) => seen.find((field) => field.id === id) ?? []);
  if (fields.length === 0) throw new Refusal('invalid', 'None of these columns can be saved in a file. Show another column first.');
  const links = wanted === undefined ? linksOf(designFor(app.design, person), table.id) : [];
  return sendAs(context, format, {
    title: table.name,
    columns: columnsOf(app.design, table, fields, links),
    pages: pagesOf(database, app, person, table, fields, links, picked),
    zone: app.design.timeZone,
  });
}

function columnsOf(design: AppDesign, table: Table, fields: readonly Field[], links: readonly Relationship[]): readonly ExportColumn[] {
  return [
    { name: recordHeading(table), type: 'number', isWords: false, isHidden: true },
    ...fields.map((field) => ({ name: field.name, type: typeOfField(design, table.id, field)?.kind ?? null, isWords: kindOf(field).traits.words })),
    ...links.map((one) => ({ name: one.childrenName, type: null, isWords: true })),
  ];
}

async function* pagesOf(
  database: DataSource,
  app: OpenedApp,
  person: Person,
  table: Table,
  fields: readonly Field[],
  links: readonly Relationship[],
  picked: Picking,
): AsyncGenerator<readonly ExportRow[]> {
  const columns = fields.map((field) => field.id);
  let after: Cursor | null = null;
  let limit = firstPage;
  do {
    const query: Query = queryOf(table.id, { ...picked, columns, after, limit });
    const restricted = restrictForExport(query, app.design, person, Date.now());
    const rows: readonly PageRow[] = await run<PageRow>(database, compilePage(restricted, app.design, app.schema));
    const ids = rows.map((row) => row.id);
    const named = await namesOf(database, app, person, links, ids, null);
    let longest = 1;
    yield rows.map((row) => {
      const values = fields.map((field) => kindOf(field).value.exported((row[field.id] as Value | undefined) ?? null, field));
      longest = Math.max(
        longest,
        values.reduce<number>((sum, value) => sum + (typeof value === 'string' ? value.length : 8), 0),
      );
      return [row.id, ...values, ...named.map((names) => names.get(row.id) ?? null)];
    });
    const last = rows.at(-1);
    after = last === undefined || rows.length < limit ? null : placeOf(last);
    limit = Math.max(1, Math.min(pageOfRows, Math.floor(pageOfSigns / longest)));
  } while (after !== null);
}
