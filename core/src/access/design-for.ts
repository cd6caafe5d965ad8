/** What a person's browser may know of a design: what their rights reach, and nothing of how the others are kept from it. */
import type { AppDesign, Field, Form, List, Page, Role, Table } from '../design/design.js';
import type { Dashboard } from '../design/dashboard.js';
import type { Report } from '../design/report.js';
import type { Route } from '../design/route.js';
import type { RowSource, SavedQuery } from '../design/saved-query.js';
import { check } from '../expression/check.js';
import type { PartKey } from '../design/design.js';
import { mayMove } from '../routes/route.js';
import { menuOf, rightsOf, type Person, type TableRights } from './access.js';

/**
 * Takes the place of an expression that names what the person may not know. It cannot be read, so whatever would compute it
 * in the browser leaves it to the server.
 */
export const withheldExpression = '?';

const known = new WeakMap<AppDesign, Map<string, AppDesign>>();

/**
 * The design as far as it is this person's; a builder's is the whole. The same object for people with the same roles and
 * links, as long as the design does not change.
 */
export function designFor(design: AppDesign, person: Person): AppDesign {
  if (person.role === 'builder') return design;
  const perDesign = known.get(design) ?? new Map<string, AppDesign>();
  known.set(design, perDesign);
  const key = JSON.stringify([person.role, [...person.roles].sort(), Object.keys(person.ties).sort()]);
  const made = perDesign.get(key) ?? outlined(design, person);
  perDesign.set(key, made);
  return made;
}

const mayAnything = (rights: TableRights): boolean => rights.see || rights.add || rights.change || rights.remove;

function outlined(design: AppDesign, person: Person): AppDesign {
  const rights = new Map(design.tables.map((table) => [table.id, rightsOf(design, person, table)]));
  const reached = design.tables.filter((table) => mayAnything(rights.get(table.id) as TableRights));
  const fieldsOf = (table: Table): readonly Field[] => table.fields.filter((field) => rights.get(table.id)?.hidden.includes(field.id) !== true);
  const shown = new Set(reached.flatMap((table) => fieldsOf(table).map((field) => field.id)));
  const relationships = design.relationships.filter((one) => shown.has(one.field));
  const isReached = (id: string): boolean => reached.some((table) => table.id === id);
  // A visible reference needs its table in the design. The table comes without fields, because the person may not see them.
  const beyond = relationships
    .filter((one, i) => !isReached(one.parent) && relationships.findIndex((each) => each.parent === one.parent) === i)
    .map(({ parent, field }): Table => {
      const name = reached.flatMap((table) => table.fields).find((one) => one.id === field)?.name ?? '';
      return { id: parent, name, slug: parent, description: '', section: '', caption: '', fields: [], checks: [] };
    });
  const pages = menuOf(design, person);
  // The compiler asks for every kind of part: decide here what members can know of a new one.
  const parts: Pick<AppDesign, PartKey> = {
    // Checks are asked by the server, and answer with their sentences.
    tables: [...reached.map((table): Table => ({ ...table, fields: fieldsOf(table), checks: [] })), ...beyond],
    relationships,
    forms: [...design.forms.filter((form) => isReached(form.table)).map((form) => formFor(form, shown, relationships, isReached)), ...beyond.map(bareForm)],
    lists: [...design.lists.filter((list) => isReached(list.table)).map((list) => listFor(list, shown)), ...beyond.map(bareList)],
    queries: design.queries.filter((query) => opens(pages, { kind: 'query', query: query.id })).map(queryFor),
    reports: design.reports.filter((report) => opens(pages, { kind: 'report', report: report.id })).map(reportFor),
    dashboards: design.dashboards.filter((one) => opens(pages, { kind: 'dashboard', dashboard: one.id })).map(dashboardFor),
    routes: design.routes.filter((route) => shown.has(route.field)).map((route) => routeFor(route, person)),
    automations: [],
    roles: design.roles.filter((role) => person.roles.includes(role.id)).map(roleFor),
    ties: design.ties.filter((tie) => isReached(tie.table)),
  };
  const { format, name, timeZone, region } = design;
  return readable({ format, name, timeZone, region, ...parts } as AppDesign);
}

const opens = (pages: readonly Page[], page: Page): boolean => pages.some((one) => JSON.stringify(one) === JSON.stringify(page));
/** Whether someone can open a query, report or dashboard, by its address too: it is in their menu. A builder opens all. */
export const mayOpen = (design: AppDesign, person: Person, page: Page): boolean => person.role === 'builder' || opens(menuOf(design, person), page);

const formFor = (form: Form, shown: ReadonlySet<string>, relationships: AppDesign['relationships'], isReached: (table: string) => boolean): Form => ({
  ...form,
  items: form.items.filter((item) =>
    item.kind === 'field' ? shown.has(item.field) : relationships.some((one) => one.id === item.relationship && isReached(one.child)),
  ),
});
// The server applies the condition of a list.
const listFor = (list: List, shown: ReadonlySet<string>): List => ({
  ...list,
  columns: list.columns.filter((id) => shown.has(id)),
  sort: list.sort !== null && shown.has(list.sort.field) ? list.sort : null,
  condition: '',
});
const bareForm = (table: Table): Form => ({ id: `fm_${table.id}`, table: table.id, name: table.name, roles: [], isDefault: true, items: [] });
const bareList = (table: Table): List => ({
  id: `l_${table.id}`,
  table: table.id,
  name: table.name,
  roles: [],
  isDefault: true,
  columns: [],
  sort: null,
  condition: '',
});

/** What a page shows comes with its answer; here is only what the page is called and how it looks. */
const queryFor = (query: SavedQuery): SavedQuery => ({ ...query, condition: '', columns: [], limit: null });
const noRows: RowSource = { kind: 'table', table: 'rows', condition: '', columns: [] };
const reportFor = (report: Report): Report => ({ ...report, source: noRows, fields: [], groups: [], order: [] });
const dashboardFor = (dashboard: Dashboard): Dashboard => ({ ...dashboard, tiles: dashboard.tiles.map((tile) => ({ ...tile, source: noRows })) });

const routeFor = (route: Route, person: Person): Route => ({
  ...route,
  description: '',
  moves: route.moves.filter((move) => mayMove(move, person)).map((move) => ({ ...move, roles: move.roles.filter((role) => person.roles.includes(role)) })),
});
const roleFor = ({ id, name }: Role): Role => ({ id, name, description: '', everything: false, grants: [], menu: [] });

/** The outline without expressions that name what is not in it. */
function readable(outline: AppDesign): AppDesign {
  const reads = (text: string, table: string | null): boolean => check(text, { design: outline, table }, { fits: () => true, says: '' }).ok;
  const fieldNow = (field: Field, table: string): Field => {
    const start = field.default !== null && !reads(field.default, null) ? { default: null } : {};
    if (field.kind === 'formula') return reads(field.expression, table) ? field : { ...field, expression: withheldExpression };
    return { ...field, ...start };
  };
  return {
    ...outline,
    tables: outline.tables.map((table) => ({
      ...table,
      caption: table.caption === '' || reads(table.caption, table.id) ? table.caption : withheldExpression,
      fields: table.fields.map((field) => fieldNow(field, table.id)),
    })),
    routes: outline.routes.map((route) => ({
      ...route,
      moves: route.moves.map((move) => (move.guard === '' || reads(move.guard, route.table) ? move : { ...move, guard: withheldExpression })),
    })),
  };
}
