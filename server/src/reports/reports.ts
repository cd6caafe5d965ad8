/** Reports: rows laid out on pages, the same for the preview and for paper. */
import {
  checkPages,
  countShown,
  localeFor,
  paginate,
  paperOf,
  rowsOnPaper,
  totalsOnPaper,
  type Paper,
  type Person,
  type Report,
  type ReportPage,
  type ReportProof,
} from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { readRows, type Rows } from '../queries/read-rows.js';
import { breathing } from './breathing.js';
import { hasSigns, measure } from './fonts.js';

/** More would be a pile of paper that nobody reads, and the memory of the server. */
const mostRows = 25_000;

interface LaidOut {
  readonly pages: readonly ReportPage[];
  readonly paper: Paper;
  readonly rows: Rows;
}

const totalled = (report: Report) => report.fields.flatMap(({ column, total }) => (total === null ? [] : [{ column, summary: total }]));

/** @throws Refusal invalid, too_large */
export async function layOutReport(database: DataSource, app: OpenedApp, person: Person, report: Report): Promise<LaidOut> {
  if (report.fields.length === 0) throw new Refusal('invalid', 'Add a field first: what should each row show?');
  const locale = localeFor(app.design, person);
  const arranged = [...report.groups, ...report.order].map(({ column, direction }) => ({ column, direction }));
  const rows = await readRows(database, app, person, { source: report.source, arranged, totals: totalled(report), limit: mostRows + 1 });
  if (rows.rows.length > mostRows)
    throw new Refusal(
      'too_large',
      `This report would have ${locale.count(rows.counted.count)} rows; up to ${locale.count(mostRows)} are laid out. Narrow its condition, or use a query with a summary first.`,
    );
  const paper = paperOf(report.paper);
  const printed = locale.moment(Date.now());
  const around = { app: app.design.name, printed };
  const cells = rows.rows.map((row) => row.cells);
  const pages = await breathing(paginate({ report, columns: rows.columns, rows: cells, paper, around, measure, locale }));
  return { pages, paper, rows };
}

/** Holds what is on the paper against what the database counts by itself. */
export function proofOf(report: Report, { pages, rows }: LaidOut): ReportProof {
  const onPaper = totalsOnPaper(pages);
  const [paper, source] = [rowsOnPaper(pages), rows.counted.count];
  const sums = totalled(report).map(({ column, summary }, i) => {
    const { name = '', type = '', digits = null, unit = null } = rows.columns.find((one) => one.id === column) ?? {};
    const printed = summary === 'count' ? countShown : { type, digits, unit };
    const [here, there] = [onPaper.get(column) ?? null, rows.counted.totals[i] ?? null];
    return { says: `${summaryWords[summary]} of ${name}`, paper: here, source: there, holds: here === there, ...printed };
  });
  return {
    sums: [{ says: 'Rows', paper: String(paper), source: String(source), holds: paper === source, ...countShown }, ...sums],
    findings: [...checkPages(pages, hasSigns)],
  };
}

const summaryWords = { count: 'Number', sum: 'Sum', average: 'Average', smallest: 'Smallest', largest: 'Largest' } as const;
