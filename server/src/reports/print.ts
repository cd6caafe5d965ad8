/** Reports, lists and queries as PDF. */
import { rightsOf, type contract } from '@bibliona/core';
import { fileNamed, type FileInTheMaking, type FileMaker, type Watch } from '../export/file.js';
import type { OpenedApp } from '../http/serve.js';
import { RecordReader } from '../records/read.js';
import { breathing } from '../http/breathing.js';
import { pickedOf, savedQuery } from '../queries/read-query.js';
import { layOutQuery, layOutRecords, layOutReport, savedReport, type LaidOut } from './reports.js';

/** The first pages can be read while the last are drawn; when nobody reads any longer, the drawing ends. */
async function pdfFile(app: OpenedApp, name: string, { pages, paper }: Pick<LaidOut, 'pages' | 'paper'>, watch: Watch | undefined): Promise<FileInTheMaking> {
  // Loaded with the first file: most processes of the server make none.
  const { drawPages, openPdf } = await import('./draw-pdf.js');
  const document = openPdf({ title: name, author: app.design.name, at: new Date() });
  watch?.rows(pages.length);
  void breathing(drawPages(document, pages, paper, watch?.read)).catch((error: Error) => document.destroy(error));
  return { name: fileNamed(name, 'pdf'), type: 'application/pdf', content: document };
}

/** @throws Refusal not_found, forbidden, invalid, too_large */
export const printReport: FileMaker<typeof contract.printReport> = async (database, { app, person }, { params }, watch) => {
  const report = savedReport(app, person, params.report);
  return pdfFile(app, report.name, await layOutReport(database, app, person, report), watch);
};

/** @throws Refusal not_found, bad_request, forbidden, invalid, too_large */
export const printRecords: FileMaker<typeof contract.printRecords> = async (database, { app, person }, { params, query }, watch) => {
  const reader = new RecordReader(database, app, person);
  const table = reader.table(params.table);
  const list = reader.list(table, query);
  const { hidden } = rightsOf(app.design, person, table);
  const fields = (query.columns ?? list.columns).flatMap((id) => table.fields.filter((field) => field.id === id && !hidden.includes(id)));
  const picked = reader.selected(table, query, query.only);
  return pdfFile(app, list.name, await layOutRecords(database, app, person, { list, table, picked, fields }), watch);
};

/** @throws Refusal not_found, forbidden, invalid, too_large */
export const printQuery: FileMaker<typeof contract.printQuery> = async (database, who, { params, query: picked }, watch) => {
  const query = savedQuery(who, params.query);
  return pdfFile(who.app, query.name, await layOutQuery(database, who.app, who.person, query, pickedOf(picked)), watch);
};
