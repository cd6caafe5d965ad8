/** What a person's browser can know of a design: what their rights reach, and nothing of how the others are kept from it. */
import { partLists, type AppDesign, type Check, type PartKey, type Relationship, type Table } from '../design/design.js';
import type { Form } from '../design/form.js';
import type { Page } from '../design/page.js';
import { plainList, type List } from '../design/list.js';
import { fieldOf, tableOf } from '../design/read.js';
import { checksOfRecordAlone } from '../checks/checks.js';
import { check } from '../expression/check.js';
import { partKind, partNames, partsOf, withList } from '../parts/kinds.js';
import type { ExpressionPlace, Gone, Onlooker, Write } from '../parts/part.js';
import { menuOf, rightsOf, type Person, type TableRights } from './access.js';
import { wants } from '../feel/wants.js';

/**
 * Takes the place of an expression that names what the person can't know. It cannot be read, so whatever would compute it
 * in the browser leaves it to the server.
 */
export const withheldExpression = '?';

/** What buttons and lists on forms lead to: without it they are not told either. Pages that a menu opens are asked for one by one. */
const namedByForms = ['list', 'form', 'automation'] as const;

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

function outlined(design: AppDesign, person: Person): AppDesign {
  const rights = new Map(design.tables.map((table) => [table.id, rightsOf(design, person, table)]));
  const mayAnything = (tableRights: TableRights): boolean => tableRights.see || tableRights.add || tableRights.change || tableRights.remove;
  const reached = new Set(design.tables.filter((table) => mayAnything(rights.get(table.id) as TableRights)).map((table) => table.id));
  const isShown = (table: string, field: string): boolean => reached.has(table) && rights.get(table)?.hidden.includes(field) !== true;
  const pages = menuOf(design, person);
  const member: Onlooker = {
    holds: (role) => person.roles.includes(role),
    opens: (page) => opens(pages, page),
    reaches: (table) => reached.has(table),
  };
  const relationships = design.relationships.filter((relationship) => isShown(relationship.child, relationship.field));
  const beyond = tablesBeyond(design, reached, relationships);
  const isTable = new Set([...reached, ...beyond.tables.map((table) => table.id)]);
  const hidden = new Set([
    ...design.tables.filter((table) => !isTable.has(table.id)).map(({ id }) => `table ${id}`),
    ...design.tables.flatMap((table) => table.fields.filter((field) => !isShown(table.id, field.id)).map(({ id }) => `field ${id}`)),
    ...design.relationships.filter((relationship) => !relationships.includes(relationship)).map(({ id }) => `relationship ${id}`),
    ...design.roles.filter((role) => !member.holds(role.id)).map(({ id }) => `role ${id}`),
    ...namedByForms.flatMap((name) => partsOf(design, name).flatMap((part) => (partKind(name).toMember(part, member) === null ? [`${name} ${part.id}`] : []))),
  ]);
  const gone: Gone = { has: (to, id) => hidden.has(`${to} ${id}`), isAsked: () => false };
  /** Every part as the member can know it, with its expressions as `write` gives them. */
  const told = (write: Write): AppDesign =>
    partNames.reduce((outline, name) => {
      const kind = partKind(name);
      const parts = partsOf(design, name).flatMap((part) => {
        const own = kind.toMember(part, member);
        const left = own === null ? 'remove' : kind.without(kind.expressions(own, design, write), gone);
        return left === 'remove' || 'by' in left ? [] : [left];
      });
      return withList(outline, partLists[name].key, [...parts, ...(beyond[partLists[name].key] ?? [])]);
    }, design);
  const whole = told((place) => place.text);
  const reads = ({ text, table }: ExpressionPlace): boolean =>
    (table === null || isTable.has(table)) && check(text, { design: whole, table }, wants.anything).ok;
  const outline = told((place) => (reads(place) ? place.text : withheldExpression));
  // The others are asked by the server, and answer with their sentences.
  const canBreak = (id: string): boolean => rights.get(id)?.add === true || rights.get(id)?.change === true;
  const checksIn = (id: string): readonly Check[] => (canBreak(id) ? checksOfRecordAlone(whole, tableOf(whole, id)) : []);
  return { ...outline, tables: outline.tables.map((table) => ({ ...table, checks: checksIn(table.id) })) };
}

/** A visible reference needs its table in the design. The table comes without fields, because the person can't see them. */
function tablesBeyond(design: AppDesign, reached: ReadonlySet<string>, relationships: readonly Relationship[]) {
  const bare = { roles: [], isDefault: true } as const;
  const tables = relationships
    .filter((relationship, i) => !reached.has(relationship.parent) && relationships.findIndex((each) => each.parent === relationship.parent) === i)
    .map(({ parent, child, field }): Table => {
      const { name } = fieldOf(tableOf(design, child), field);
      return { id: parent, name, slug: parent, description: '', section: '', caption: '', fields: [], checks: [], uniqueTogether: [], isLink: false };
    });
  const forms = tables.map(({ id, name }): Form => ({ ...bare, id: `fm_${id}`, table: id, name, items: [] }));
  const lists = tables.map(({ id, name }): List => ({ ...bare, id: `l_${id}`, table: id, name, columns: [], ...plainList }));
  return { tables, forms, lists } satisfies Partial<AppDesign> as { readonly tables: readonly Table[] } & Partial<Pick<AppDesign, PartKey>>;
}

const opens = (pages: readonly Page[], page: Page): boolean => pages.some((each) => JSON.stringify(each) === JSON.stringify(page));
/** Whether someone can open a query, report or dashboard, by its address too: it is in their menu. A builder opens all. */
export const mayOpen = (design: AppDesign, person: Person, page: Page): boolean => person.role === 'builder' || opens(menuOf(design, person), page);
