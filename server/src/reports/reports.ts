/** Reports: rows laid out on pages, the same for the preview and for paper. */
import {
  checkPages,
  countShown,
  kindOf,
  localeFor,
  mayOpen,
  onPaper,
  paginate,
  paperOf,
  restrictForExport,
  rowsOnPaper,
  totalShown,
  totalsOnPaper,
  type AskedQuery,
  type Field,
  type List,
  type Paper,
  type Person,
  type Report,
  type ReportPage,
  type ReportProof,
  type ResultColumn,
  type SavedQuery,
  type Summary,
  type Table,
} from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { Refusal } from '../http/refusal.js';
import { mustExport } from '../export/file.js';
import type { OpenedApp } from '../http/serve.js';
import { addsUp, askedOf, columnsOf } from '../queries/read-query.js';
import { readPaper, readRows, type AskedRows, type Rows } from '../queries/read-rows.js';
import type { Picking } from '../records/read.js';
import { breathing } from '../http/breathing.js';

/** More would be a pile of paper that nobody reads, and the memory of the server. */
const mostRows = 25_000;

export interface LaidOut {
  readonly pages: readonly ReportPage[];
  readonly paper: Paper;
  readonly rows: Rows;
}

/** @throws Refusal not_found when there is none, or it is not among the pages of this person */
export function savedReport(app: OpenedApp, person: Person, id: string): Report {
  const report = app.design.reports.find((saved) => saved.id === id);
  if (report === undefined || !mayOpen(app.design, person, { kind: 'report', report: id }))
    throw new Refusal('not_found', "This report doesn't exist or you don't have access to it.");
  return report;
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
  return { ...(await onPages(app, person, report, rows)), rows };
}

async function onPages(app: OpenedApp, person: Person, report: Report, { columns, rows }: Pick<Rows, 'columns' | 'rows'>): Promise<Omit<LaidOut, 'rows'>> {
  const locale = localeFor(app.design, person);
  const paper = paperOf(report.paper);
  const around = { app: app.design.name, printed: locale.moment(Date.now()) };
  // What reads fonts is loaded with the first report: it would be a tenth of what the server loads when it starts.
  const { measure } = await import('./fonts.js');
  const pages = await breathing(paginate({ report, columns, rows: rows.map((row) => row.cells), paper, around, measure, locale }));
  return { pages, paper };
}

// A sheet on its side has room for more columns than this, one that stands has not.
const mostUpright = 6;

/**
 * Records of a list on paper, as far as this person can export them: these fields of each, and the sums of the list.
 * @throws Refusal forbidden, invalid, too_large
 */
export async function layOutRecords(
  database: DataSource,
  app: OpenedApp,
  person: Person,
  wanted: { readonly list: List; readonly table: Table; readonly picked: Picking; readonly fields: readonly Field[] },
): Promise<Omit<LaidOut, 'rows'>> {
  const { list, table, picked, fields } = wanted;
  mustExport(app, person, table);
  const asked = onPaper(app.design, picked, table, fields);
  const printed = fields.filter((field) => asked.columns.some((column) => column.id === field.id));
  if (printed.length === 0) throw new Refusal('invalid', 'None of these columns has words to print. Show another column first.');
  return layOutColumns(database, app, person, {
    id: list.id,
    name: list.name,
    kind: 'list',
    columns: printed.map((field) => ({
      id: field.id,
      name: field.name,
      digits: kindOf(field).digits(field),
      share: shareOf(field),
      total: list.sums.includes(field.id) ? 'sum' : null,
    })),
    asked,
    read: { arranged: asked.order },
  });
}

/**
 * Rows of a query on paper, as someone has picked them and as far as they can export what they are made of.
 * @throws Refusal forbidden, invalid, too_large
 */
export async function layOutQuery(
  database: DataSource,
  app: OpenedApp,
  person: Person,
  query: SavedQuery,
  read: Pick<AskedRows, 'arranged' | 'picked'>,
): Promise<Omit<LaidOut, 'rows'>> {
  const table = app.design.tables.find((each) => each.id === query.table);
  if (table === undefined || query.columns.length === 0) throw new Refusal('invalid', 'This query shows no columns yet.');
  mustExport(app, person, table);
  const asked = askedOf(query, app);
  const summed = new Set(asked.columns.filter(addsUp).map((column) => column.id));
  const columns = columnsOf(query, asked).map(({ id, name, type, digits }) => ({
    id,
    name,
    digits,
    share: type === 'string' || type === 'record' ? 12 : 8,
    total: summed.has(id) ? ('sum' as const) : null,
  }));
  return layOutColumns(database, app, person, { id: query.id, name: query.name, kind: 'query', columns, asked, read });
}

/** Rows in columns, one below the other. */
async function layOutColumns(
  database: DataSource,
  app: OpenedApp,
  person: Person,
  wanted: {
    readonly id: string;
    readonly name: string;
    readonly kind: 'list' | 'query';
    readonly columns: readonly (Pick<ResultColumn, 'id' | 'name' | 'digits'> & { readonly share: number; readonly total: Summary | null })[];
    readonly asked: AskedQuery;
    readonly read: Pick<AskedRows, 'arranged' | 'picked'>;
  },
): Promise<Omit<LaidOut, 'rows'>> {
  const { id, name, kind, columns, asked, read } = wanted;
  const report: Report = {
    id,
    name,
    description: '',
    section: '',
    source: { kind: 'table', table: asked.table, condition: '', columns: [] },
    fields: columns.map((column) => ({ column: column.id, share: column.share, wraps: true, total: column.total })),
    groups: [],
    order: [],
    arrangement: 'columns',
    paper: { size: 'a4', turned: columns.length > mostUpright },
  };
  const restricted = restrictForExport(asked, app.design, person, Date.now());
  const rows = await readPaper(database, app, restricted, { columns }, { limit: mostRows + 1, totals: totalled(report), ...read });
  if (rows.rows.length > mostRows) {
    const locale = localeFor(app.design, person);
    const [count, most] = [locale.count(rows.counted.count), locale.count(mostRows)];
    throw new Refusal(
      'too_large',
      kind === 'list'
        ? `This list has ${count} records; up to ${most} fit on paper. Search or filter it first, or choose some of them.`
        : `This query has ${count} rows; up to ${most} fit on paper. Search or filter it first.`,
    );
  }
  return onPages(app, person, report, rows);
}

/** A part of the width of the paper, of which a column gets more the wider it is in lists. */
const shareOf = (field: Field): number => Math.min(40, Math.max(4, Math.round((field.listWidth ?? kindOf(field).traits.listWidth) / 20)));

/** Holds what is on the paper against what the database counts by itself. */
export async function proofOf(report: Report, { pages, rows }: LaidOut): Promise<ReportProof> {
  const onPaper = totalsOnPaper(pages);
  const [paper, source] = [rowsOnPaper(pages), rows.counted.count];
  const sums = totalled(report).map(({ column, summary }, i) => {
    const { name, ...shown } = rows.columns.find((each) => each.id === column) ?? { name: '', type: '', digits: null, unit: null };
    const { type, digits, unit, isAmount } = totalShown(shown, summary);
    const [here, there] = [onPaper.get(column) ?? null, rows.counted.totals[i] ?? null];
    return { label: `${summaryWords[summary]} of ${name}`, paper: here, source: there, holds: here === there, type, digits, unit, isAmount };
  });
  const { hasSigns } = await import('./fonts.js');
  return {
    sums: [{ label: 'Rows', paper: String(paper), source: String(source), holds: paper === source, ...countShown }, ...sums],
    findings: [...checkPages(pages, hasSigns)],
  };
}

const summaryWords = { count: 'Number', sum: 'Sum', average: 'Average', smallest: 'Smallest', largest: 'Largest' } as const;
