/** The one door through which a design changes. */
import type { AppDesign, Field, FieldId, Form, FormItem, List, Page, Relationship, Table, TableId } from '../design/design.js';
import type { FieldPlan } from '../fields/kinds.js';
import type { DesignChange } from './design-change.js';
import { feelName, key } from '../feel/names.js';
import { withRenamed } from './expressions.js';
import { designIssues } from './parse.js';
import type { DesignIssue } from './issues.js';
import { rowsPlaces } from './rows.js';
import type { RowSource } from '../design/saved-query.js';
import { freeSlug, systemColumns } from '../shapes/slug.js';

export type ChangeResult = { readonly ok: true; readonly design: AppDesign } | { readonly ok: false; readonly issues: readonly DesignIssue[] };

class Refused extends Error {
  constructor(readonly issue: DesignIssue) {
    super(issue.code);
  }
}

type Draft = { -readonly [K in keyof AppDesign]: AppDesign[K] };

const need = <T>(part: T | undefined, what: Extract<DesignIssue, { code: 'unknown' }>['what'], id: string): T => {
  if (part === undefined) throw new Refused({ code: 'unknown', what, id });
  return part;
};

const withColumn = (field: FieldPlan, taken: readonly string[]): Field => ({ ...field, column: freeSlug(field.name, taken) });

function columnsOf(table: Pick<Table, 'fields'>): string[] {
  return [...systemColumns, ...table.fields.map((field) => field.column)];
}

const wide = new Set<FieldPlan['kind']>(['long_text']);
const narrow = new Set<FieldPlan['kind']>(['whole', 'decimal', 'date', 'yes_no', 'formula']);
const widthOf = (field: FieldPlan): number => (wide.has(field.kind) ? 12 : narrow.has(field.kind) ? 3 : 6);

// A list of more columns than this no longer fits a screen; the builder adds further ones by hand.
const mostColumns = 12;

function tableIn(design: Draft, id: TableId): Table {
  return need(
    design.tables.find((table) => table.id === id),
    'table',
    id,
  );
}

function replaceTable(design: Draft, id: TableId, change: (table: Table) => Table): void {
  tableIn(design, id);
  design.tables = design.tables.map((table) => (table.id === id ? change(table) : table));
}

function mapForms(design: Draft, table: TableId, items: (form: Form) => readonly FormItem[]): void {
  design.forms = design.forms.map((form) => (form.table === table ? { ...form, items: items(form) } : form));
}

/** A field's place among its neighbours is kept in the form and the list as in the table. */
function joinScreens(design: Draft, table: Table, field: Field): void {
  mapForms(design, table.id, (form) => {
    const firstBlock = form.items.findIndex((item) => item.kind === 'children');
    const at = firstBlock < 0 ? form.items.length : firstBlock;
    return [...form.items.slice(0, at), { kind: 'field', field: field.id, width: widthOf(field) }, ...form.items.slice(at)];
  });
  design.lists = design.lists.map((list) =>
    list.table === table.id && list.columns.length < mostColumns && field.kind !== 'long_text' ? { ...list, columns: [...list.columns, field.id] } : list,
  );
}

/** Whether the plain name of a field is its name in expressions: no other field of the table is called nearly the same. */
const isFree = (field: Field, table: Table): boolean =>
  feelName(field.name) !== '' && !table.fields.some((one) => one.id !== field.id && key(feelName(one.name)) === key(feelName(field.name)));

function addField(design: Draft, table: TableId, plan: FieldPlan): void {
  const field = withColumn(plan, columnsOf(tableIn(design, table)));
  replaceTable(design, table, (old) => ({
    ...old,
    fields: [...old.fields, field],
    caption: old.caption === '' && field.kind === 'text' && isFree(field, old) ? feelName(field.name) : old.caption,
  }));
  joinScreens(design, tableIn(design, table), field);
}

function removeField(design: Draft, table: TableId, id: FieldId): void {
  const field = need(
    tableIn(design, table).fields.find((one) => one.id === id),
    'field',
    id,
  );
  replaceTable(design, table, (old) => {
    const fields = old.fields.filter((one) => one.id !== id);
    // A caption of this field alone gives way to the next text; one that says more is the builder's to change first.
    const next = fields.find((one) => one.kind === 'text');
    const isCaption = key(old.caption) === key(feelName(field.name));
    return { ...old, fields, caption: !isCaption ? old.caption : next === undefined ? '' : feelName(next.name) };
  });
  design.routes = design.routes.filter((route) => route.field !== id);
  mapForms(design, table, (form) => form.items.filter((item) => item.kind !== 'field' || item.field !== id));
  design.roles = design.roles.map((role) => ({
    ...role,
    grants: role.grants.map((grant) => ({ ...grant, hidden: grant.hidden.filter((one) => one !== id), locked: grant.locked.filter((one) => one !== id) })),
  }));
  design.lists = design.lists.map((list) =>
    list.table === table ? { ...list, columns: list.columns.filter((one) => one !== id), sort: list.sort?.field === id ? null : list.sort } : list,
  );
  if (field.kind === 'reference') {
    const gone = need(
      design.relationships.find((one) => one.id === field.relationship),
      'relationship',
      field.relationship,
    );
    design.relationships = design.relationships.filter((one) => one.id !== gone.id);
    mapForms(design, gone.parent, (form) => form.items.filter((item) => item.kind !== 'children' || item.relationship !== gone.id));
  }
}

function changeField(design: Draft, tableId: TableId, plan: FieldPlan): void {
  const table = tableIn(design, tableId);
  const old = need(
    table.fields.find((one) => one.id === plan.id),
    'field',
    plan.id,
  );
  if ((old.kind === 'formula') !== (plan.kind === 'formula')) throw new Refused({ code: 'formula_kind', field: old.name });
  if (
    (old.kind === 'reference') !== (plan.kind === 'reference') ||
    (old.kind === 'reference' && plan.kind === 'reference' && old.relationship !== plan.relationship)
  ) {
    throw new Refused({ code: 'relationship_kind', field: old.name });
  }
  const others = columnsOf({ fields: table.fields.filter((one) => one.id !== plan.id) });
  const field: Field = { ...plan, column: old.name === plan.name ? old.column : freeSlug(plan.name, others) };
  replaceTable(design, tableId, (one) => ({
    ...one,
    fields: one.fields.map((each) => (each.id === field.id ? field : each)),
  }));
}

function addTable(design: Draft, change: Extract<DesignChange, { kind: 'add_table' }>): void {
  const slug = freeSlug(
    change.name,
    design.tables.map((table) => table.slug),
  );
  const { id, name, description, section } = change;
  design.tables = [...design.tables, { id, name, slug, description, section, caption: '', checks: [], fields: [] }];
  const form: Form = { id: change.form, table: id, name, items: [] };
  const list: List = { id: change.list, table: id, name, columns: [], sort: null, condition: '' };
  design.forms = [...design.forms, form];
  design.lists = [...design.lists, list];
  for (const field of change.fields) addField(design, id, field);
}

function withoutPages(design: Draft, isGone: (page: Page) => boolean): void {
  design.roles = design.roles.map((role) => (role.menu.some(isGone) ? { ...role, menu: role.menu.filter((page) => !isGone(page)) } : role));
}

function removeTable(design: Draft, id: TableId): void {
  tableIn(design, id);
  for (const one of design.relationships.filter((each) => each.parent === id || each.child === id)) removeField(design, one.child, one.field);
  design.tables = design.tables.filter((table) => table.id !== id);
  design.forms = design.forms.filter((form) => form.table !== id);
  design.lists = design.lists.filter((list) => list.table !== id);
  const gone = new Set(design.queries.filter((query) => query.table === id).map((query) => query.id));
  design.queries = design.queries.filter((query) => !gone.has(query.id));
  const isGone = (source: RowSource): boolean => (source.kind === 'table' ? source.table === id : gone.has(source.query));
  for (const report of design.reports) if (isGone(report.source)) removeReport(design, report.id);
  design.dashboards = design.dashboards.map((one) => ({ ...one, tiles: one.tiles.filter((tile) => !isGone(tile.source)) }));
  design.roles = design.roles.map((role) => ({ ...role, grants: role.grants.filter((grant) => grant.table !== id) }));
  withoutPages(design, (page) => ((page.kind === 'list' || page.kind === 'form') && page.table === id) || (page.kind === 'query' && gone.has(page.query)));
  design.ties = design.ties.filter((tie) => tie.table !== id);
  design.routes = design.routes.filter((route) => route.table !== id);
  design.automations = design.automations.filter((one) => one.table !== id);
}

function removeReport(design: Draft, id: string): void {
  design.reports = without(design.reports, 'report', id);
  withoutPages(design, (page) => page.kind === 'report' && page.report === id);
}

function addRelationship(design: Draft, change: Extract<DesignChange, { kind: 'add_relationship' }>): void {
  tableIn(design, change.parent);
  tableIn(design, change.child);
  const one: Relationship = {
    id: change.id,
    parent: change.parent,
    child: change.child,
    field: change.fieldId,
    childrenName: change.childrenName,
    whenParentRemoved: change.whenParentRemoved,
  };
  design.relationships = [...design.relationships, one];
  addField(design, change.child, {
    kind: 'reference',
    id: change.fieldId,
    name: change.fieldName,
    description: '',
    required: change.required,
    unique: false,
    relationship: change.id,
    default: null,
  });
  mapForms(design, change.parent, (form) => [...form.items, { kind: 'children', relationship: change.id }]);
}

/** The list with the part at its old place, or at the end when it is new. */
const withPut = <T extends { readonly id: string }>(parts: readonly T[], part: T): readonly T[] =>
  parts.some((one) => one.id === part.id) ? parts.map((one) => (one.id === part.id ? part : one)) : [...parts, part];

function without<T extends { readonly id: string }>(parts: readonly T[], what: Extract<DesignIssue, { code: 'unknown' }>['what'], id: string): readonly T[] {
  need(
    parts.find((one) => one.id === id),
    what,
    id,
  );
  return parts.filter((one) => one.id !== id);
}

function step(design: Draft, change: DesignChange): void {
  switch (change.kind) {
    case 'rename_app':
      design.name = change.name;
      return;
    case 'add_table':
      addTable(design, change);
      return;
    case 'change_table': {
      const { table: id, name, caption, checks, description, section } = change;
      replaceTable(design, id, (old) => ({
        ...old,
        name: name ?? old.name,
        slug:
          name === undefined || name === old.name
            ? old.slug
            : freeSlug(
                name,
                design.tables.filter((one) => one.id !== id).map((one) => one.slug),
              ),
        description: description ?? old.description,
        section: section ?? old.section,
        caption: caption ?? old.caption,
        checks: checks ?? old.checks,
      }));
      if (name !== undefined) {
        design.forms = design.forms.map((form) => (form.table === id ? { ...form, name } : form));
        design.lists = design.lists.map((list) => (list.table === id ? { ...list, name } : list));
      }
      return;
    }
    case 'remove_table':
      removeTable(design, change.table);
      return;
    case 'add_field':
      if (change.field.kind === 'reference') throw new Refused({ code: 'relationship_kind', field: change.field.name });
      addField(design, change.table, change.field);
      return;
    case 'change_field':
      changeField(design, change.table, change.field);
      return;
    case 'move_field':
      moveField(design, change);
      return;
    case 'remove_field':
      removeField(design, change.table, change.field);
      return;
    case 'add_relationship':
      addRelationship(design, change);
      return;
    case 'change_list':
      need(
        design.lists.find((one) => one.id === change.list),
        'list',
        change.list,
      );
      design.lists = design.lists.map((one) => (one.id === change.list ? { ...one, condition: change.condition } : one));
      return;
    case 'put_query':
      design.queries = withPut(design.queries, change.query);
      return;
    case 'remove_query': {
      const user = rowsPlaces(design).find(({ source }) => source.kind === 'query' && source.query === change.query);
      if (user !== undefined) throw new Refused({ code: 'in_use', what: 'query', by: user.says });
      design.queries = without(design.queries, 'query', change.query);
      withoutPages(design, (page) => page.kind === 'query' && page.query === change.query);
      return;
    }
    case 'put_report':
      design.reports = withPut(design.reports, change.report);
      return;
    case 'remove_report':
      removeReport(design, change.report);
      return;
    case 'put_dashboard':
      design.dashboards = withPut(design.dashboards, change.dashboard);
      return;
    case 'remove_dashboard':
      design.dashboards = without(design.dashboards, 'dashboard', change.dashboard);
      withoutPages(design, (page) => page.kind === 'dashboard' && page.dashboard === change.dashboard);
      return;
    case 'put_route':
      design.routes = withPut(design.routes, change.route);
      return;
    case 'remove_route':
      design.routes = without(design.routes, 'route', change.route);
      return;
    case 'put_automation':
      design.automations = withPut(design.automations, change.automation);
      return;
    case 'remove_automation':
      design.automations = without(design.automations, 'automation', change.automation);
      return;
    case 'put_role':
      design.roles = withPut(design.roles, change.role);
      return;
    case 'remove_role':
      design.roles = without(design.roles, 'role', change.role);
      design.routes = design.routes.map((route) => ({
        ...route,
        moves: route.moves.map((move) => (move.roles.includes(change.role) ? { ...move, roles: move.roles.filter((one) => one !== change.role) } : move)),
      }));
      return;
    case 'put_tie':
      design.ties = withPut(design.ties, change.tie);
      return;
    case 'remove_tie':
      design.ties = without(design.ties, 'tie', change.tie);
      return;
    case 'set_time_zone':
      design.timeZone = change.timeZone;
      return;
    case 'change_relationship':
      need(
        design.relationships.find((one) => one.id === change.relationship),
        'relationship',
        change.relationship,
      );
      design.relationships = design.relationships.map((one) =>
        one.id === change.relationship
          ? { ...one, childrenName: change.childrenName ?? one.childrenName, whenParentRemoved: change.whenParentRemoved ?? one.whenParentRemoved }
          : one,
      );
      return;
    default:
      change satisfies never;
  }
}

const byFieldOrder = (table: Table) => (a: FieldId, b: FieldId) =>
  table.fields.findIndex((one) => one.id === a) - table.fields.findIndex((one) => one.id === b);

function moveField(design: Draft, change: Extract<DesignChange, { kind: 'move_field' }>): void {
  const moved = need(
    tableIn(design, change.table).fields.find((one) => one.id === change.field),
    'field',
    change.field,
  );
  replaceTable(design, change.table, (old) => {
    const rest = old.fields.filter((one) => one.id !== moved.id);
    return { ...old, fields: [...rest.slice(0, change.to), moved, ...rest.slice(change.to)] };
  });
  const order = byFieldOrder(tableIn(design, change.table));
  design.lists = design.lists.map((list) => (list.table === change.table ? { ...list, columns: [...list.columns].sort(order) } : list));
  mapForms(design, change.table, (form) => {
    const fields = form.items.filter((item) => item.kind === 'field').sort((a, b) => order(a.field, b.field));
    return [...fields, ...form.items.filter((item) => item.kind === 'children')];
  });
}

/** Applies one change. The old design stays as it was; a change that would break a design is refused with the reasons. */
export function applyChange(design: AppDesign, change: DesignChange): ChangeResult {
  const draft: Draft = { ...design };
  try {
    step(draft, change);
  } catch (error) {
    if (error instanceof Refused) return { ok: false, issues: [error.issue] };
    throw error;
  }
  const after = withRenamed(design, draft);
  const issues = designIssues(after);
  return issues.length === 0 ? { ok: true, design: after } : { ok: false, issues };
}

/** Applies changes in order, all or none. */
export function applyChanges(design: AppDesign, changes: readonly DesignChange[]): ChangeResult {
  let current = design;
  for (const change of changes) {
    const result = applyChange(current, change);
    if (!result.ok) return result;
    current = result.design;
  }
  return { ok: true, design: current };
}
