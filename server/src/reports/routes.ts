import type { Readable } from 'node:stream';
import { contract, mayOpen, rightsOf, type Person, type Report, type ReportPages } from '@bibliona/core';
import type { Context } from 'koa';
import type { DataSource } from 'typeorm';
import { fileNamed } from '../export/file.js';
import { Refusal } from '../http/refusal.js';
import { forMember, type OpenedApp, type Served } from '../http/serve.js';
import { RecordReader } from '../records/read.js';
import { breathing } from './breathing.js';
import { drawPages, openPdf } from './draw-pdf.js';
import { layOutRecords, layOutReport, proofOf } from './reports.js';

/** @throws Refusal not_found when there is none, or it is not among the pages of this person */
function saved(app: OpenedApp, person: Person, id: string): Report {
  const report = app.design.reports.find((one) => one.id === id);
  if (report === undefined || !mayOpen(app.design, person, { kind: 'report', report: id }))
    throw new Refusal('not_found', "This report doesn't exist or you don't have access to it.");
  return report;
}

type Laid = Awaited<ReturnType<typeof layOutReport>>;
const sliced = ({ pages, paper, rows }: Laid, from: number, count: number): ReportPages => ({
  pages: pages.slice(from - 1, from - 1 + count),
  of: pages.length,
  paper,
  rows: rows.counted.count,
  seen: rows.seen,
});

/** The first pages are on their way while the last are drawn; closing the page stops the drawing. */
function sendPdf(context: Context, app: OpenedApp, name: string, { pages, paper }: Pick<Laid, 'pages' | 'paper'>): Readable {
  const document = openPdf({ title: name, author: app.design.name, at: new Date() });
  context.type = 'application/pdf';
  context.attachment(fileNamed(name, 'pdf'));
  void breathing(drawPages(document, pages, paper)).catch((error: Error) => document.destroy(error));
  return document;
}

export function reportRoutes(database: DataSource): readonly Served[] {
  return [
    forMember(contract.readReport, async ({ params, query }, { app, person }) =>
      sliced(await layOutReport(database, app, person, saved(app, person, params.report)), query.from, query.count),
    ),
    forMember(contract.printReport, async ({ params, context }, { app, person }) => {
      const report = saved(app, person, params.report);
      return sendPdf(context, app, report.name, await layOutReport(database, app, person, report));
    }),
    forMember(contract.printRecords, async ({ params, query, context }, { app, person }) => {
      const reader = new RecordReader(database, app, person);
      const table = reader.table(params.table);
      const list = reader.list(table, query);
      const { hidden } = rightsOf(app.design, person, table);
      const fields = (query.columns ?? list.columns).flatMap((id) => table.fields.filter((field) => field.id === id && !hidden.includes(id)));
      const picked = reader.selected(table, query, query.only);
      return sendPdf(context, app, list.name, await layOutRecords(database, app, person, { list, table, picked, fields }));
    }),
    forMember(contract.tryReport, async ({ body }, { app, person }) => {
      const laid = await layOutReport(database, app, person, body.report);
      return { ...sliced(laid, body.from, body.count), proof: proofOf(body.report, laid) };
    }),
  ];
}
