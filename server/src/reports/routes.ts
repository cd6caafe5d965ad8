import { contract, mayOpen, type Person, type Report, type ReportPages } from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { Refusal } from '../http/refusal.js';
import { forMember, type OpenedApp, type Served } from '../http/serve.js';
import { breathing } from './breathing.js';
import { drawPages, openPdf } from './draw-pdf.js';
import { layOutReport, proofOf } from './reports.js';

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

export function reportRoutes(database: DataSource): readonly Served[] {
  return [
    forMember(contract.readReport, async ({ params, query }, { app, person }) =>
      sliced(await layOutReport(database, app, person, saved(app, person, params.report)), query.from, query.count),
    ),
    forMember(contract.printReport, async ({ params, context }, { app, person }) => {
      const report = saved(app, person, params.report);
      const { pages, paper } = await layOutReport(database, app, person, report);
      const document = openPdf({ title: report.name, author: app.design.name, at: new Date() });
      context.type = 'application/pdf';
      context.attachment(`${report.name.replace(/[^\p{L}\p{N} ._-]/gu, ' ').trim() || 'report'}.pdf`);
      // The first pages are on their way while the last are drawn; closing the page stops the drawing.
      void breathing(drawPages(document, pages, paper)).catch((error: Error) => document.destroy(error));
      return document;
    }),
    forMember(contract.tryReport, async ({ body }, { app, person }) => {
      const laid = await layOutReport(database, app, person, body.report);
      return { ...sliced(laid, body.from, body.count), proof: proofOf(body.report, laid) };
    }),
  ];
}
