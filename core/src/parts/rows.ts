/** Rows that reports and tiles are made of, as the question that they are. */
import type { AppDesign, Page } from '../design/design.js';
import type { RowSource, SavedQuery } from '../design/saved-query.js';
import type { DesignIssue } from './issues.js';

/** The rows of a page as a member's browser knows them: they come with the answer. */
export const noRows: RowSource = { kind: 'table', table: 'rows', condition: '', columns: [] };

/** The question that gives the rows; null when its query is not part of the app (any more). */
export function questionOf(source: RowSource, design: Pick<AppDesign, 'queries'>): SavedQuery | null {
  if (source.kind === 'query') return design.queries.find((one) => one.id === source.query) ?? null;
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
      return design.lists.filter((one) => one.id === page.list).map((one) => one.table);
    case 'form':
      return design.forms.filter((one) => one.id === page.form).map((one) => one.table);
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
  ...design.lists.map((one): Page => ({ kind: 'list', list: one.id })),
  ...design.queries.map((one): Page => ({ kind: 'query', query: one.id })),
  ...design.reports.map((one): Page => ({ kind: 'report', report: one.id })),
  ...design.dashboards.map((one): Page => ({ kind: 'dashboard', dashboard: one.id })),
  ...design.forms.map((one): Page => ({ kind: 'form', form: one.id })),
];
