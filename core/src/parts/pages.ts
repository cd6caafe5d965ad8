/** Pages, and the tables whose records they are made of. */
import type { AppDesign } from '../design/design.js';
import type { Page } from '../design/page.js';
import type { RowSource } from '../design/saved-query.js';
import { shownTables } from '../design/read.js';
import { questionOf } from './row-sources.js';

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
