import { formFor, listFor, type AppDesign, type Page } from '@bibliona/core';

/** A page as menus show it: its name, its heading, where it is. */
export interface MenuEntry {
  readonly page: Page;
  readonly name: string;
  readonly section: string;
  readonly to: string;
  /** It is the list or form with which its table opens. */
  readonly isOpening: boolean;
}

function menuEntry(design: AppDesign, app: string, page: Page, roles: readonly string[]): MenuEntry | null {
  const made = <Part extends { readonly id: string; readonly name: string; readonly section: string }>(
    parts: readonly Part[],
    id: string,
    heading: string,
    way: string,
  ): MenuEntry | null => {
    const part = parts.find((each) => each.id === id);
    if (part === undefined) return null;
    return { page, name: part.name, section: part.section === '' ? heading : part.section, to: `/desk/${app}/${way}${part.id}`, isOpening: false };
  };
  /** A list or a form is found at the address of its table, and is under the table's heading; one that is not opened by itself is named. */
  const ofTable = (
    part: { readonly id: string; readonly name: string; readonly table: string; readonly isDefault: boolean } | undefined,
    as: 'list' | 'form',
  ): MenuEntry | null => {
    const entry = part === undefined ? null : as === 'list' ? made(design.tables, part.table, '', '') : made(design.tables, part.table, 'Forms', 'f/');
    if (part === undefined || entry === null) return null;
    const isOpening = (as === 'list' ? listFor : formFor)(design, part.table, roles).id === part.id;
    const name = as === 'form' && part.isDefault ? `Add to ${part.name}` : part.name;
    return { ...entry, name, to: isOpening ? entry.to : `${entry.to}?${as}=${part.id}`, isOpening };
  };
  switch (page.kind) {
    case 'list':
      return ofTable(
        design.lists.find((list) => list.id === page.list),
        'list',
      );
    case 'form':
      return ofTable(
        design.forms.find((form) => form.id === page.form),
        'form',
      );
    case 'query':
      return made(design.queries, page.query, 'Queries', 'q/');
    case 'report':
      return made(design.reports, page.report, 'Reports', 'r/');
    case 'dashboard':
      return made(design.dashboards, page.dashboard, 'Dashboards', 'd/');
    default:
      return page satisfies never;
  }
}

/** @param roles of who opens them: each can open a table with a list and a form of its own */
export const menuEntries = (design: AppDesign, app: string, pages: readonly Page[], roles: readonly string[] = []): readonly MenuEntry[] =>
  pages.flatMap((page) => menuEntry(design, app, page, roles) ?? []);

/** Where a page is designed. */
export function workshopPath(app: string, page: Page): string {
  switch (page.kind) {
    case 'list':
      return `/workshop/${app}/screens/${page.list}`;
    case 'form':
      return `/workshop/${app}/screens/${page.form}`;
    case 'query':
      return `/workshop/${app}/queries/${page.query}`;
    case 'report':
      return `/workshop/${app}/reports/${page.report}`;
    case 'dashboard':
      return `/workshop/${app}/dashboards/${page.dashboard}`;
    default:
      return page satisfies never;
  }
}
