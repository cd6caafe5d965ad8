import type { AppDesign, Page } from '@bibliona/core';

/** A page as menus show it: its name, its heading, where it is. */
export interface MenuEntry {
  readonly page: Page;
  readonly name: string;
  readonly section: string;
  readonly to: string;
}

function menuEntry(design: AppDesign, app: string, page: Page): MenuEntry | null {
  if (page.kind === 'list') {
    const table = design.tables.find((one) => one.id === page.table);
    return table === undefined ? null : { page, name: table.name, section: table.section, to: `/desk/${app}/${table.id}` };
  }
  const query = design.queries.find((one) => one.id === page.query);
  return query === undefined ? null : { page, name: query.name, section: query.section === '' ? 'Queries' : query.section, to: `/desk/${app}/q/${query.id}` };
}

export const menuEntries = (design: AppDesign, app: string, pages: readonly Page[]): readonly MenuEntry[] =>
  pages.flatMap((page) => menuEntry(design, app, page) ?? []);
