/** Rows that reports and tiles are made of, as the question that they are. */
import type { AppDesign } from '../design/design.js';
import type { Page } from '../design/page.js';
import type { RowSource, SavedQuery } from '../design/saved-query.js';
import { shownTables } from '../design/read.js';
import type { DesignIssue } from './issues.js';

/** The rows of a page as a member's browser knows them: they come with the answer. */
export const noRows: RowSource = { kind: 'table', table: 'rows', condition: '', columns: [] };

/** The question that gives the rows; null when its query is not part of the app (any more). */
export function questionOf(source: RowSource, design: Pick<AppDesign, 'queries'>): SavedQuery | null {
  if (source.kind === 'query') return design.queries.find((query) => query.id === source.query) ?? null;
  const { table, condition, columns } = source;
  return { id: 'rows', name: '', description: '', section: '', table, condition, columns, order: [], limit: null };
}

/** What is wrong when a report or tile, called `says`, shows columns that its rows do not have. */
export function missingColumns(source: RowSource, columns: readonly string[], label: string, design: Pick<AppDesign, 'queries'>): readonly DesignIssue[] {
  const question = questionOf(source, design);
  if (question === null || columns.every((id) => question.columns.some((column) => column.id === id))) return [];
  return [{ code: 'broken', problem: `${label.charAt(0).toUpperCase()}${label.slice(1)} shows a column that its rows do not have. Take it out there first.` }];
}

/** The tables whose records a page is made of. */
export function tablesOfPage(design: AppDesign, page: Page): readonly string[] {
  const ofRows = (source: RowSource): string => questionOf(source, design)?.table ?? '';
  switch (page.kind) {
    case 'list':
      return design.lists.filter((list) => list.id === page.list).map((list) => list.table);
    case 'form':
      return design.forms.filter((form) => form.id === page.form).map((form) => form.table);
    case 'query':
      return [ofRows(page)];
    case 'report':
      return design.reports.filter((report) => report.id === page.report).map((report) => ofRows(report.source));
    case 'dashboard':
      return design.dashboards
        .filter((dashboard) => dashboard.id === page.dashboard)
        .flatMap((dashboard) => dashboard.tiles.map((tile) => ofRows(tile.source)));
    default:
      return page satisfies never;
  }
}

/** Every page that a menu could lead to: lists, queries, reports, dashboards, forms. */
export function everyPage(design: AppDesign): readonly Page[] {
  const shown = new Set(shownTables(design).map((table) => table.id));
  const isShown = (screen: { readonly table: string }): boolean => shown.has(screen.table);
  return [
    ...design.lists.filter(isShown).map((list): Page => ({ kind: 'list', list: list.id })),
    ...design.queries.map((query): Page => ({ kind: 'query', query: query.id })),
    ...design.reports.map((report): Page => ({ kind: 'report', report: report.id })),
    ...design.dashboards.map((dashboard): Page => ({ kind: 'dashboard', dashboard: dashboard.id })),
    ...design.forms.filter(isShown).map((form): Page => ({ kind: 'form', form: form.id })),
  ];
}
