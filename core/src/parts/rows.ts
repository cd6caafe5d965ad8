/** Rows that reports and tiles are made of: where a design keeps them, and the question that they are. */
import type { AppDesign, Page } from '../design/design.js';
import type { RowSource, SavedQuery } from '../design/saved-query.js';

/** One place of a design that is made of rows. */
export interface RowsPlace {
  readonly owner: { readonly kind: 'report' | 'dashboard'; readonly id: string };
  /** How the place is called in a sentence. */
  readonly says: string;
  readonly source: RowSource;
  /** Columns of the rows that the place speaks of. */
  readonly columns: readonly string[];
}

type Parts = Pick<AppDesign, 'reports' | 'dashboards'>;

export function rowsPlaces(design: Parts): readonly RowsPlace[] {
  const reports = design.reports.map((report): RowsPlace => ({
    owner: { kind: 'report', id: report.id },
    says: `the report ${report.name}`,
    source: report.source,
    columns: [...report.fields, ...report.groups, ...report.order].map((one) => one.column),
  }));
  const tiles = design.dashboards.flatMap((dashboard) =>
    dashboard.tiles.map((tile): RowsPlace => ({
      owner: { kind: 'dashboard', id: dashboard.id },
      says: `the tile ${tile.name} of ${dashboard.name}`,
      source: tile.source,
      columns: tile.kind !== 'figure' ? [tile.label, tile.value] : tile.column === null ? [] : [tile.column],
    })),
  );
  return [...reports, ...tiles];
}

/** The question that gives the rows; null when its query is not part of the app (any more). */
export function questionOf(source: RowSource, design: Pick<AppDesign, 'queries'>): SavedQuery | null {
  if (source.kind === 'query') return design.queries.find((one) => one.id === source.query) ?? null;
  const { table, condition, columns } = source;
  return { id: 'rows', name: '', description: '', section: '', table, condition, columns, order: [], limit: null };
}

/** The tables whose records a page is made of. */
export function tablesOfPage(design: AppDesign, page: Page): readonly string[] {
  const ofRows = (source: RowSource): string => questionOf(source, design)?.table ?? '';
  switch (page.kind) {
    case 'list':
    case 'form':
      return [page.table];
    case 'query':
      return [ofRows(page)];
    case 'report':
      return design.reports.filter((one) => one.id === page.report).map((one) => ofRows(one.source));
    case 'dashboard':
      return design.dashboards.filter((one) => one.id === page.dashboard).flatMap((one) => one.tiles.map((tile) => ofRows(tile.source)));
    default:
      return page satisfies never;
  }
}

/** Every page that a menu could lead to: lists, queries, reports, dashboards, forms. */
export const everyPage = (design: AppDesign): readonly Page[] => [
  ...design.tables.map((one): Page => ({ kind: 'list', table: one.id })),
  ...design.queries.map((one): Page => ({ kind: 'query', query: one.id })),
  ...design.reports.map((one): Page => ({ kind: 'report', report: one.id })),
  ...design.dashboards.map((one): Page => ({ kind: 'dashboard', dashboard: one.id })),
  ...design.tables.map((one): Page => ({ kind: 'form', table: one.id })),
];
