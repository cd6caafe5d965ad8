/** Every place of a design where an expression stands: what checks, renames and searches them goes through this list. */
import { check } from '../expression/check.js';
import { type Scope } from '../expression/scope.js';
import { wants, type Wanted } from '../feel/wants.js';
import { dependenciesOf, renamed } from '../expression/rename.js';
import type { Type } from '../feel/types.js';
import { kindOf } from '../fields/kinds.js';
import type { AppDesign, Field, List, Role, Table } from '../design/design.js';
import type { Automation } from '../design/automation.js';
import { automationPlaces, renamedAutomation } from './automation-expressions.js';
import type { Dashboard } from '../design/dashboard.js';
import type { Report } from '../design/report.js';
import type { Route } from '../design/route.js';
import { rowsPlaces } from './rows.js';
import type { RowSource, SavedQuery } from '../design/saved-query.js';
import { wantedColumn } from './wanted.js';

/** One place with an expression in it. */
export interface ExpressionPlace {
  /** How the place is called in a sentence: "the default of Weight in Hives". */
  readonly says: string;
  readonly text: string;
  /** The table of whose records it speaks; null for what holds before there is a record. */
  readonly table: string | null;
  readonly wanted: Wanted;
  /** The field, table or list that it is part of: what is edited to mend it. */
  readonly owner: { readonly kind: 'field' | 'table' | 'list' | 'query' | 'role' | 'report' | 'dashboard' | 'route' | 'automation'; readonly id: string };
}

export function expressionsOf(design: AppDesign): readonly ExpressionPlace[] {
  const places: ExpressionPlace[] = [];
  for (const table of design.tables) {
    for (const field of table.fields) {
      const owner = { kind: 'field', id: field.id } as const;
      if (field.default !== null)
        places.push({ says: `the default of ${field.name} in ${table.name}`, text: field.default, table: null, wanted: kindOf(field).feel.wanted, owner });
      if (field.kind === 'formula')
        places.push({ says: `the formula ${field.name} of ${table.name}`, text: field.expression, table: table.id, wanted: wants.plain, owner });
    }
    const owner = { kind: 'table', id: table.id } as const;
    if (table.caption !== '') places.push({ says: `the caption of ${table.name}`, text: table.caption, table: table.id, wanted: wants.plain, owner });
    for (const one of table.checks)
      places.push({ says: `the check “${one.message}” of ${table.name}`, text: one.condition, table: table.id, wanted: wants.truth, owner });
  }
  for (const list of design.lists)
    if (list.condition !== '')
      places.push({
        says: `the condition of the list ${list.name}`,
        text: list.condition,
        table: list.table,
        wanted: wants.truth,
        owner: { kind: 'list', id: list.id },
      });
  for (const query of design.queries) {
    places.push(...questionPlaces(query, `the query ${query.name}`, { kind: 'query', id: query.id }));
  }
  for (const { source, says, owner } of rowsPlaces(design)) if (source.kind === 'table') places.push(...questionPlaces(source, says, owner));
  for (const route of design.routes)
    for (const move of route.moves)
      if (move.guard !== '')
        places.push({
          says: `the guard of ${move.name} in the route ${route.name}`,
          text: move.guard,
          table: route.table,
          wanted: wants.truth,
          owner: { kind: 'route', id: route.id },
        });
  for (const automation of design.automations) places.push(...automationPlaces(automation, design));
  for (const role of design.roles)
    for (const grant of role.grants)
      if (grant.condition !== '') {
        const name = design.tables.find((one) => one.id === grant.table)?.name ?? '';
        const owner = { kind: 'role', id: role.id } as const;
        places.push({ says: `a grant of the role ${role.name} for ${name}`, text: grant.condition, table: grant.table, wanted: wants.truth, owner });
      }
  return places;
}

type Asked = Pick<SavedQuery, 'table' | 'condition' | 'columns'>;

function questionPlaces({ table, condition, columns }: Asked, within: string, owner: ExpressionPlace['owner']): readonly ExpressionPlace[] {
  const places: ExpressionPlace[] = [];
  if (condition !== '') places.push({ says: `the condition of ${within}`, text: condition, table, wanted: wants.truth, owner });
  for (const column of columns)
    if (column.expression !== '')
      places.push({ says: `the column ${column.name} of ${within}`, text: column.expression, table, wanted: wantedColumn(column.summary), owner });
  return places;
}

/** The design with every expression as it has to be written after a change, given what it was before. */
export function withRenamed(before: AppDesign, after: AppDesign): AppDesign {
  const again = (text: string, table: string | null): string =>
    text === '' || (table !== null && !before.tables.some((one) => one.id === table)) ? text : renamed(text, { design: before, table } satisfies Scope, after);
  // Only what stood there before is rewritten: what the change itself brings speaks of the names after it.
  const stood = (was: string | null | undefined, now: string, table: string): string => (was === now ? again(now, table) : now);
  const fieldNow = (field: Field, old: Field | undefined, table: string): Field => {
    if (field.kind !== 'formula' || old?.kind !== 'formula') return field;
    const expression = stood(old.expression, field.expression, table);
    return expression === field.expression ? field : { ...field, expression };
  };
  const tableNow = (table: Table): Table => {
    const old = before.tables.find((one) => one.id === table.id);
    if (old === undefined) return table;
    const caption = stood(old.caption, table.caption, table.id);
    const checks = kept(table.checks, (one) => {
      const condition = stood(old.checks.find((each) => each.id === one.id)?.condition, one.condition, table.id);
      return condition === one.condition ? one : { ...one, condition };
    });
    const fields = kept(table.fields, (field) =>
      fieldNow(
        field,
        old.fields.find((one) => one.id === field.id),
        table.id,
      ),
    );
    return caption === table.caption && checks === table.checks && fields === table.fields ? table : { ...table, caption, checks, fields };
  };
  const listNow = (list: List): List => {
    const condition = stood(before.lists.find((one) => one.id === list.id)?.condition, list.condition, list.table);
    return condition === list.condition ? list : { ...list, condition };
  };
  const roleNow = (role: Role): Role => {
    const old = before.roles.find((one) => one.id === role.id);
    const grants = kept(role.grants, (grant) => {
      const condition = stood(old?.grants.find((one) => one.id === grant.id)?.condition, grant.condition, grant.table);
      return condition === grant.condition ? grant : { ...grant, condition };
    });
    return grants === role.grants ? role : { ...role, grants };
  };
  const asked = <Question extends Asked>(query: Question, old: Asked | undefined): Question => {
    if (old === undefined) return query;
    const condition = stood(old.condition, query.condition, query.table);
    const columns = kept(query.columns, (column) => {
      const expression = stood(old.columns.find((one) => one.id === column.id)?.expression, column.expression, query.table);
      return expression === column.expression ? column : { ...column, expression };
    });
    return condition === query.condition && columns === query.columns ? query : { ...query, condition, columns };
  };
  const queryNow = (query: SavedQuery): SavedQuery =>
    asked(
      query,
      before.queries.find((one) => one.id === query.id),
    );
  const withRows = <Part extends { readonly id: string; readonly source: RowSource }>(part: Part, olds: readonly Part[] | undefined): Part => {
    const old = olds?.find((one) => one.id === part.id)?.source;
    if (part.source.kind !== 'table' || old?.kind !== 'table') return part;
    const source = asked(part.source, old);
    return source === part.source ? part : { ...part, source };
  };
  const reportNow = (report: Report): Report => withRows(report, before.reports);
  const dashboardNow = (dashboard: Dashboard): Dashboard => {
    const old = before.dashboards.find((one) => one.id === dashboard.id);
    const tiles = kept(dashboard.tiles, (tile) => withRows(tile, old?.tiles));
    return tiles === dashboard.tiles ? dashboard : { ...dashboard, tiles };
  };
  const routeNow = (route: Route): Route => {
    const old = before.routes.find((one) => one.id === route.id);
    const moves = kept(route.moves, (move) => {
      const guard = stood(old?.moves.find((one) => one.id === move.id)?.guard, move.guard, route.table);
      return guard === move.guard ? move : { ...move, guard };
    });
    return moves === route.moves ? route : { ...route, moves };
  };
  const automationNow = (automation: Automation): Automation =>
    // An automation that the change itself puts there is written in the names after it.
    before.automations.includes(automation) ? renamedAutomation(automation, before, after) : automation;
  return {
    ...after,
    tables: kept(after.tables, tableNow),
    lists: kept(after.lists, listNow),
    queries: kept(after.queries, queryNow),
    reports: kept(after.reports, reportNow),
    dashboards: kept(after.dashboards, dashboardNow),
    routes: kept(after.routes, routeNow),
    automations: kept(after.automations, automationNow),
    roles: kept(after.roles, roleNow),
  };
}

/** The list with each part changed, the same object when none is. */
function kept<T>(parts: readonly T[], change: (part: T) => T): readonly T[] {
  const changed = parts.map(change);
  return changed.every((one, i) => one === parts[i]) ? parts : changed;
}

/** What cannot be read in a design, in words. */
export function expressionIssues(design: AppDesign): readonly { readonly place: ExpressionPlace; readonly problem: string }[] {
  return expressionsOf(design).flatMap((place) => {
    const checked = check(place.text, { design, table: place.table }, place.wanted);
    return checked.ok ? [] : [{ place, problem: checked.problems[0]?.message ?? '' }];
  });
}

/** The type of the values of a field, formulas included; null when its formula cannot be read, or it is a reference. */
export function typeOfField(design: AppDesign, table: string, field: Field): Type | null {
  if (field.kind === 'reference') return null;
  if (field.kind !== 'formula') return kindOf(field).feel.type(field, table);
  const checked = check(field.expression, { design, table });
  return checked.ok ? checked.node.type : null;
}

/** The fields of a table by which its caption calls a record. */
export function captionFields(design: AppDesign, table: Table): readonly Field[] {
  const checked = check(table.caption, { design, table: table.id }, { fits: () => true, says: '' });
  if (!checked.ok) return [];
  const named = dependenciesOf(checked.node).map((one) => one.id);
  return table.fields.filter((field) => named.includes(field.id));
}

/** Whether values of the field stand at the right, one above the other: numbers, those of formulas among them. */
export const isAlignedRight = (design: AppDesign, table: Table, field: Field): boolean =>
  field.kind === 'formula' ? typeOfField(design, table.id, field)?.kind === 'number' : kindOf(field).traits.align === 'right';

/** The places whose expressions name a field or a relationship, by its id: what renaming it rewrites. */
export const usesOf = (design: AppDesign, id: string): readonly ExpressionPlace[] =>
  expressionsOf(design).filter((place) => {
    const checked = check(place.text, { design, table: place.table }, { fits: () => true, says: '' });
    return checked.ok && dependenciesOf(checked.node).some((one) => one.id === id);
  });
