import { compileResult, restrictForExport, type contract, type Value } from '@bibliona/core';
import { run } from '../db/run.js';
import { mustExport, pageOfRows, sheetFile, type FileMaker } from '../export/file.js';
import type { ExportRow } from '../export/formats/index.js';
import { Refusal } from '../http/refusal.js';
import { askedOf, columnsOf, pickedOf, savedQuery } from './read-query.js';

const mostResultRows = 100_000;

/** The answer of a saved query. @throws Refusal not_found, forbidden, invalid */
export const exportQuery: FileMaker<typeof contract.exportQuery> = async (database, who, { params, query: { format, ...picked } }, watch) => {
  const { app, person } = who;
  const query = savedQuery(who, params.query);
  const table = app.design.tables.find((each) => each.id === query.table);
  if (table === undefined) throw new Refusal('not_found', 'This table no longer exists in the app.');
  mustExport(app, person, table);
  const asked = askedOf(query, app);
  const restricted = restrictForExport(asked, app.design, person, Date.now());
  const rows = await run<{ cells: Value[] }>(database, compileResult([restricted, app.design, app.schema], { limit: mostResultRows, ...pickedOf(picked) }));
  watch?.rows(rows.length);
  async function* pages(): AsyncGenerator<readonly ExportRow[]> {
    for (let from = 0; from < rows.length; from += pageOfRows) {
      yield rows.slice(from, from + pageOfRows).map((row) => row.cells);
      watch?.read(from + pageOfRows);
    }
  }
  const columns = columnsOf(query, asked).map(({ name, type }) => ({ name, type, isWords: !['number', 'date', 'boolean'].includes(type) }));
  return sheetFile(format, { title: query.name, columns, pages: pages(), zone: app.design.timeZone });
};
