import { type AppDesign, type Page } from '@bibliona/core';

/** A page as menus show it: its name, its heading, where it is. */
export interface MenuEntry {
  readonly page: Page;
  readonly name: string;
  readonly section: string;
  readonly to: string;
}

function menuEntry(design: AppDesign, app: string, page: Page): MenuEntry | null {
  const made = <Part extends { readonly id: string; readonly name: string; readonly section: string }>(
    parts: readonly Part[],
    id: string,
    heading: string,
    way: string,
  ): MenuEntry | null => {
    const part = parts.find((one) => one.id === id);
    return part === undefined ? null : { page, name: part.name, section: part.section === '' ? heading : part.section, to: `/desk/${app}/${way}${part.id}` };
  };
  /** A list or a form is found at the address of its table, and is under the table's heading; one that is not opened by itself is named. */
  const ofTable = (
    parts: readonly { readonly id: string; readonly name: string; readonly table: string; readonly isDefault: boolean; readonly roles: readonly string[] }[],
    id: string,
    heading: string,
    way: string,
    as: 'list' | 'form',
    called: (name: string, isDefault: boolean) => string,
  ): MenuEntry | null => {
    const part = parts.find((one) => one.id === id);
    const entry = part === undefined ? null : made(design.tables, part.table, heading, way);
    if (part === undefined || entry === null) return null;
    return { ...entry, name: called(part.name, part.isDefault), to: part.isDefault && part.roles.length === 0 ? entry.to : `${entry.to}?${as}=${part.id}` };
  };
  switch (page.kind) {
    case 'list':
      return ofTable(design.lists, page.list, '', '', 'list', (name) => name);
    case 'form':
      return ofTable(design.forms, page.form, 'Forms', 'f/', 'form', (name, isDefault) => (isDefault ? `Add to ${name}` : name));
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

export const menuEntries = (design: AppDesign, app: string, pages: readonly Page[]): readonly MenuEntry[] =>
  pages.flatMap((page) => menuEntry(design, app, page) ?? []);

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
