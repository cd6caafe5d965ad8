import { contract, type ReportPages } from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { forMember, type Served } from '../http/serve.js';
import { layOutReport, proofOf, savedReport } from './reports.js';

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
      sliced(await layOutReport(database, app, person, savedReport(app, person, params.report)), query.from, query.count),
    ),
    forMember(contract.tryReport, async ({ body }, { app, person }) => {
      const laid = await layOutReport(database, app, person, body.report);
      return { ...sliced(laid, body.from, body.count), proof: await proofOf(body.report, laid) };
    }),
  ];
}
