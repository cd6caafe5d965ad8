import type { z } from 'zod';
import { automationIssues } from './automation-issues.js';
import { AppDesignShape, type AppDesign, type Table } from '../design/design.js';
import type { Choice } from '../fields/choice.js';
import type { DesignIssue } from './issues.js';
import { expressionIssues } from './expressions.js';
import { feelName } from '../feel/names.js';
import type { Route } from '../design/route.js';
import { folded, repeated } from './repeated.js';
import { questionOf, rowsPlaces } from './rows.js';
import type { SavedQuery } from '../design/saved-query.js';
import { systemColumns } from '../shapes/slug.js';
import { upgraded } from './upgrade.js';

/** Raised by `parseDesign`: the issues say where and what. */
export class DesignInvalid extends Error {
  constructor(readonly issues: readonly DesignIssue[]) {
    super(`The design is not whole: ${JSON.stringify(issues.slice(0, 5))}`);
  }
}

function tableIssues(table: Table, design: z.infer<typeof AppDesignShape>): DesignIssue[] {
  const issues: DesignIssue[] = [];
  for (const field of repeated(table.fields, (one) => folded(one.name)))
    issues.push({ code: 'name_taken', what: 'field', name: field.name, within: table.name });
  for (const field of repeated(table.fields, (one) => one.column))
    issues.push({ code: 'broken', problem: `Two fields of ${table.name} share the column ${field.column}` });
  for (const field of table.fields) {
    if ((systemColumns as readonly string[]).includes(field.column)) issues.push({ code: 'name_reserved', name: field.name });
    if (field.kind === 'choice') {
      for (const choice of repeated(field.choices, (one) => one.id))
        issues.push({ code: 'broken', problem: `Two choices of ${field.name} share the id ${choice.id}` });
      for (const choice of repeated(field.choices, (one) => folded(one.label)))
        issues.push({ code: 'name_taken', what: 'choice', name: choice.label, within: field.name });
    }
    if (field.kind === 'reference' && !design.relationships.some((one) => one.id === field.relationship && one.field === field.id && one.child === table.id)) {
      issues.push({ code: 'unknown', what: 'relationship', id: field.relationship });
    }
  }
  return issues;
}

function queryIssues(design: z.infer<typeof AppDesignShape>): DesignIssue[] {
  const issues: DesignIssue[] = [];
  for (const query of repeated(design.queries, (one) => folded(one.name)))
    issues.push({ code: 'name_taken', what: 'query', name: query.name, within: design.name });
  for (const query of design.queries) {
    if (!design.tables.some((table) => table.id === query.table)) issues.push({ code: 'unknown', what: 'table', id: query.table });
    issues.push(...columnIssues(query, query.name));
    for (const order of query.order)
      if (!query.columns.some((one) => one.id === order.column))
        issues.push({ code: 'broken', problem: `${query.name} is ordered by a column that it does not have` });
  }
  return issues;
}

/** What is wrong with the columns of rows, and with those who speak of them. */
function rowsIssues(design: z.infer<typeof AppDesignShape>): DesignIssue[] {
  const issues: DesignIssue[] = [];
  for (const one of repeated(design.reports, (report) => folded(report.name)))
    issues.push({ code: 'name_taken', what: 'report', name: one.name, within: design.name });
  for (const one of repeated(design.dashboards, (dashboard) => folded(dashboard.name)))
    issues.push({ code: 'name_taken', what: 'dashboard', name: one.name, within: design.name });
  for (const dashboard of design.dashboards) for (const tile of repeated(dashboard.tiles, (one) => one.id)) issues.push({ code: 'id_taken', id: tile.id });
  for (const { says, source, columns } of rowsPlaces(design)) {
    const question = questionOf(source, design);
    if (source.kind === 'table' && !design.tables.some((table) => table.id === source.table)) issues.push({ code: 'unknown', what: 'table', id: source.table });
    if (question === null) {
      issues.push({ code: 'unknown', what: 'query', id: source.kind === 'query' ? source.query : '' });
      continue;
    }
    if (source.kind === 'table') issues.push(...columnIssues(question, says));
    const gone = columns.find((id) => !question.columns.some((column) => column.id === id));
    if (gone !== undefined) issues.push({ code: 'broken', problem: `${capitalised(says)} shows a column that its rows do not have. Take it out there first.` });
  }
  for (const report of design.reports) {
    for (const field of repeated(report.fields, (one) => one.column))
      issues.push({ code: 'broken', problem: `${report.name} shows the column ${field.column} twice` });
    for (const group of repeated(report.groups, (one) => one.column))
      issues.push({ code: 'broken', problem: `${report.name} is grouped by the column ${group.column} twice` });
  }
  return issues;
}

function routeIssues(design: z.infer<typeof AppDesignShape>): DesignIssue[] {
  const issues: DesignIssue[] = [];
  for (const one of repeated(design.routes, (route) => folded(route.name)))
    issues.push({ code: 'name_taken', what: 'route', name: one.name, within: design.name });
  for (const one of repeated(design.routes, (route) => route.table))
    issues.push({ code: 'broken', problem: `The records of this table have a route already: ${one.name} cannot be another.` });
  for (const move of repeated(
    design.routes.flatMap((route) => route.moves),
    (one) => one.id,
  ))
    issues.push({ code: 'id_taken', id: move.id });
  for (const route of design.routes) {
    const table = design.tables.find((one) => one.id === route.table);
    const field = table?.fields.find((one) => one.id === route.field);
    if (table === undefined) issues.push({ code: 'unknown', what: 'table', id: route.table });
    else if (field?.kind !== 'choice')
      issues.push({ code: 'broken', problem: `The route ${route.name} needs a field of choices in ${table.name}: its choices are the statuses.` });
    else issues.push(...stopIssues(route, field.choices, design));
  }
  return issues;
}

/** A route must begin somewhere, and its moves lead between statuses that there are. */
function stopIssues(route: Route, choices: readonly Choice[], design: z.infer<typeof AppDesignShape>): DesignIssue[] {
  const issues: DesignIssue[] = [];
  const isStatus = (id: string): boolean => choices.some((one) => one.id === id);
  for (const one of repeated(route.statuses, (status) => status.choice)) issues.push({ code: 'id_taken', id: one.choice });
  if (route.statuses.filter((one) => one.kind === 'start' && isStatus(one.choice)).length !== 1)
    issues.push({ code: 'broken', problem: `The route ${route.name} needs one status where it begins.` });
  for (const move of route.moves) {
    if (!isStatus(move.from) || !isStatus(move.to))
      issues.push({
        code: 'broken',
        problem: `The move ${move.name} of ${route.name} leads from or to a status that is not there any more. Remove the move first.`,
      });
    if (move.from === move.to)
      issues.push({ code: 'broken', problem: `The move ${move.name} of ${route.name} leads nowhere: choose another status to go to.` });
    for (const role of move.roles) if (!design.roles.some((one) => one.id === role)) issues.push({ code: 'unknown', what: 'role', id: role });
  }
  for (const move of repeated(route.moves, (one) => `${one.from} ${folded(one.name)}`))
    issues.push({ code: 'name_taken', what: 'move', name: move.name, within: route.name });
  return issues;
}

const capitalised = (says: string): string => `${says.charAt(0).toUpperCase()}${says.slice(1)}`;

function columnIssues(query: SavedQuery, within: string): DesignIssue[] {
  const issues: DesignIssue[] = [];
  for (const column of repeated(query.columns, (one) => one.id)) issues.push({ code: 'broken', problem: `Two columns of ${within} share the id ${column.id}` });
  for (const column of repeated(query.columns, (one) => folded(one.name))) issues.push({ code: 'name_taken', what: 'column', name: column.name, within });
  for (const column of query.columns)
    if (column.expression.trim() === '' && column.summary !== 'count')
      issues.push({ code: 'broken', problem: `The column ${column.name} of ${within} says nothing yet.` });
  return issues;
}

function accessIssues(design: z.infer<typeof AppDesignShape>): DesignIssue[] {
  const issues: DesignIssue[] = [];
  const grants = design.roles.flatMap((role) => role.grants);
  for (const role of repeated(design.roles, (one) => folded(one.name))) issues.push({ code: 'name_taken', what: 'role', name: role.name, within: design.name });
  for (const grant of repeated(grants, (one) => one.id)) issues.push({ code: 'id_taken', id: grant.id });
  for (const grant of grants) {
    const table = design.tables.find((one) => one.id === grant.table);
    if (table === undefined) issues.push({ code: 'unknown', what: 'table', id: grant.table });
    for (const id of [...grant.hidden, ...grant.locked])
      if (table?.fields.some((field) => field.id === id) === false) issues.push({ code: 'unknown', what: 'field', id });
  }
  for (const page of design.roles.flatMap((role) => role.menu)) {
    if ((page.kind === 'list' || page.kind === 'form') && !design.tables.some((one) => one.id === page.table))
      issues.push({ code: 'unknown', what: 'table', id: page.table });
    if (page.kind === 'query' && !design.queries.some((one) => one.id === page.query)) issues.push({ code: 'unknown', what: 'query', id: page.query });
    if (page.kind === 'report' && !design.reports.some((one) => one.id === page.report)) issues.push({ code: 'unknown', what: 'report', id: page.report });
    if (page.kind === 'dashboard' && !design.dashboards.some((one) => one.id === page.dashboard))
      issues.push({ code: 'unknown', what: 'dashboard', id: page.dashboard });
  }
  for (const tie of repeated(design.ties, (one) => folded(one.name))) issues.push({ code: 'name_taken', what: 'tie', name: tie.name, within: design.name });
  for (const tie of design.ties) {
    if (!design.tables.some((one) => one.id === tie.table)) issues.push({ code: 'unknown', what: 'table', id: tie.table });
    if (feelName(tie.name) === '' || ['name', 'mail', 'roles'].includes(folded(tie.name)))
      issues.push({ code: 'broken', problem: `"${tie.name}" cannot be said after "me.": choose another name` });
  }
  return issues;
}

/** Checks what Zod's shapes cannot: that every name is unique where it must be and every reference leads somewhere. */
export function designIssues(design: z.infer<typeof AppDesignShape>): DesignIssue[] {
  const issues: DesignIssue[] = [];
  const tables = new Map(design.tables.map((table) => [table.id, table]));
  const hasField = (table: string, field: string): boolean => tables.get(table)?.fields.some((one) => one.id === field) === true;
  const ids = [
    ...design.tables,
    ...design.tables.flatMap((table) => table.fields),
    ...design.tables.flatMap((table) => table.checks),
    ...design.relationships,
    ...design.forms,
    ...design.lists,
    ...design.queries,
    ...design.reports,
    ...design.dashboards,
    ...design.routes,
    ...design.automations,
    ...design.roles,
    ...design.ties,
  ];
  for (const part of repeated(ids, (one) => one.id)) issues.push({ code: 'id_taken', id: part.id });
  for (const table of repeated(design.tables, (one) => folded(one.name)))
    issues.push({ code: 'name_taken', what: 'table', name: table.name, within: design.name });
  for (const table of repeated(design.tables, (one) => one.slug))
    issues.push({ code: 'broken', problem: `Two tables share the name ${table.slug} in the database` });
  for (const table of design.tables) issues.push(...tableIssues(table, design));
  for (const one of design.relationships) {
    if (!tables.has(one.parent)) issues.push({ code: 'unknown', what: 'table', id: one.parent });
    const field = tables.get(one.child)?.fields.find((each) => each.id === one.field);
    if (field?.kind !== 'reference' || field.relationship !== one.id) issues.push({ code: 'unknown', what: 'field', id: one.field });
    if (field?.required === true && one.whenParentRemoved === 'clear')
      issues.push({ code: 'broken', problem: `${field.name} must be filled, so it cannot be cleared when its record is removed` });
  }
  for (const one of repeated(design.relationships, (each) => `${each.parent} ${folded(each.childrenName)}`)) {
    issues.push({ code: 'name_taken', what: 'children', name: one.childrenName, within: tables.get(one.parent)?.name ?? one.parent });
  }
  for (const form of design.forms) {
    for (const item of form.items) {
      if (item.kind === 'field' && !hasField(form.table, item.field)) issues.push({ code: 'unknown', what: 'field', id: item.field });
      if (item.kind === 'children' && !design.relationships.some((one) => one.id === item.relationship && one.parent === form.table))
        issues.push({ code: 'unknown', what: 'relationship', id: item.relationship });
    }
  }
  for (const list of design.lists) {
    for (const field of [...list.columns, ...(list.sort === null ? [] : [list.sort.field])])
      if (!hasField(list.table, field)) issues.push({ code: 'unknown', what: 'field', id: field });
  }
  issues.push(...queryIssues(design), ...rowsIssues(design), ...routeIssues(design), ...automationIssues(design), ...accessIssues(design));
  for (const table of design.tables) {
    if (!design.forms.some((form) => form.table === table.id)) issues.push({ code: 'unknown', what: 'form', id: table.id });
    if (!design.lists.some((list) => list.table === table.id)) issues.push({ code: 'unknown', what: 'list', id: table.id });
  }
  // Expressions speak of a design whose names resolve; only then is it asked whether they can be read in it.
  if (issues.length > 0) return issues;
  return expressionIssues(design as AppDesign).map(({ place, problem }) => ({ code: 'expression', place: place.says, owner: place.owner.id, problem }));
}

/**
 * The only way from outside to an `AppDesign`.
 * @throws DesignInvalid when a part has the wrong shape or refers to something that is not there
 */
export function parseDesign(json: unknown): AppDesign {
  const shape = AppDesignShape.safeParse(upgraded(json));
  if (!shape.success) throw new DesignInvalid(shape.error.issues.map((issue) => ({ code: 'shape', path: issue.path, problem: issue.message })));
  const issues = designIssues(shape.data);
  if (issues.length > 0) throw new DesignInvalid(issues);
  return shape.data as AppDesign;
}

export const emptyDesign = (name: string, timeZone = 'UTC'): AppDesign =>
  parseDesign({ format: 2, name, timeZone, tables: [], relationships: [], forms: [], lists: [] });
