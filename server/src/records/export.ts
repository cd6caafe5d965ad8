/** Records as files: read page by page, each record once, and written as they are read. */
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
  type contract,
  type Cursor,
  type Field,
  type Person,
  type Query,
  type Relationship,
  type Table,
  type Value,
} from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { run } from '../db/run.js';
import { mustExport, pageOfRows, sheetFile, type FileMaker, type Watch } from '../export/file.js';
import type { ExportColumn, ExportRow } from '../export/formats/index.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { namesOf } from './pairs.js';
import { placeOf, RecordReader, type Picking, type PlaceRow } from './read.js';

const firstPage = 20;
// Records with long texts are read in smaller pages, so that about so many characters are in memory at once.
const pageOfSigns = 8_000_000;

type PageRow = Record<string, unknown> & PlaceRow;

/**
 * The records of a list, each with its number: by that an import finds them again. Without the names of columns all fields
 * and the lists of linked records.
 * @throws Refusal not_found, bad_request, forbidden, invalid
 */
export const exportRecords: FileMaker<typeof contract.exportRecords> = async (database, { app, person }, { params, query }, watch) => {
  const reader = new RecordReader(database, app, person);
  const table = reader.table(params.table);
  const picked = reader.selected(table, query, query.only);
  const { format, columns: wanted } = query;
  mustExport(app, person, table);
  const { hidden } = rightsOf(app.design, person, table);
  const seen = table.fields.filter((field) => !hidden.includes(field.id));
  const fields = wanted === undefined ? seen : wanted.flatMap((id) => seen.find((field) => field.id === id) ?? []);
  if (fields.length === 0) throw new Refusal('invalid', 'None of these columns can be saved in a file. Show another column first.');
  const links = wanted === undefined ? linksOf(designFor(app.design, person), table.id) : [];
  watch?.rows(query.only?.length ?? (await reader.count(table.id, query, null)));
  return sheetFile(format, {
    title: table.name,
    columns: columnsOf(app.design, table, fields, links),
    pages: pagesOf(database, app, person, table, fields, links, picked, watch),
    zone: app.design.timeZone,
  });
};

function columnsOf(design: AppDesign, table: Table, fields: readonly Field[], links: readonly Relationship[]): readonly ExportColumn[] {
  return [
    { name: recordHeading(table), type: 'number', isWords: false, isHidden: true },
    ...fields.map((field) => ({ name: field.name, type: typeOfField(design, table.id, field)?.kind ?? null, isWords: kindOf(field).traits.words })),
    ...links.map((link) => ({ name: link.childrenName, type: null, isWords: true })),
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
  watch: Watch | undefined,
): AsyncGenerator<readonly ExportRow[]> {
  const columns = fields.map((field) => field.id);
  let after: Cursor | null = null;
  let [limit, read] = [firstPage, 0];
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
    read += rows.length;
    watch?.read(read);
    const last = rows.at(-1);
    after = last === undefined || rows.length < limit ? null : placeOf(last);
    limit = Math.max(1, Math.min(pageOfRows, Math.floor(pageOfSigns / longest)));
  } while (after !== null);
}
