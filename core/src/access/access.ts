/** What a person can do. Grants only add up; where nothing grants, nothing is allowed. */
import { Grant, type AppDesign, type Role, type Table } from '../design/design.js';
import type { Page } from '../design/page.js';
import { everyPage, tablesOfPage } from '../parts/pages.js';
import { knownTable, sidesOf, tableOf } from '../design/read.js';
import { localeOf, type Locale } from '../values/locale.js';
import { sightOfLink, type RecordAction } from './link-sight.js';
import type { Membership } from './membership.js';
import type { Region } from '../values/regions.js';
import type { Move, Route } from '../design/route.js';
import { mayMove, routeOf } from '../routes/route.js';
import { check } from '../expression/check.js';
import type { Circumstances } from '../expression/bring.js';
import type { Node } from '../expression/node.js';
import { everyNode } from '../expression/rename.js';
import { wants } from '../feel/wants.js';
import type { Question, RestrictedQuery, Sight } from '../query/query.js';

/** The person who asks: known by a session, and what they are to the app that is asked. */
export interface Person {
  readonly id: number;
  readonly name: string;
  readonly mail: string;
  /** Null: they are nothing to this app. */
  readonly role: Membership | null;
  /** The roles of a member, by their ids. */
  readonly roles: readonly string[];
  /** The records that the person is tied to, by the id of the tie. */
  readonly ties: Readonly<Record<string, number>>;
  /** How they write numbers and dates; absent: as the app does. */
  readonly region?: Region | null;
}

/** How numbers and dates are written for a person in an app. */
export const localeFor = (design: AppDesign, person: Pick<Person, 'region'>): Locale => localeOf(person.region ?? design.region, design.timeZone);

/** Someone as the builder of an app: who makes one, and what loads the demo. */
export const asBuilder = ({ id, name, mail }: Pick<Person, 'id' | 'name' | 'mail'>): Person => ({ id, name, mail, role: 'builder', roles: [], ties: {} });

/** A grant that lets see every record of a table, and whatever more is said. */
export const grantOf = (id: string, table: string, more: Partial<Grant> = {}): Grant => Grant.parse({ ...more, id, table });

/** One grant of a role that someone has. */
export interface GrantOfRole {
  readonly role: Role;
  /** Null: the role grants everything. */
  readonly grant: Grant | null;
  /** Null: for every record. */
  readonly condition: Node | null;
  /** Whether it speaks of a tie that they do not have; then it does not hold for them. */
  readonly lacksTie: boolean;
}

const read = new WeakMap<AppDesign, Map<Grant, Node | null>>();
/** The condition of a grant, read once for each design. */
function conditionOf(design: AppDesign, grant: Grant): Node | null {
  let known = read.get(design);
  if (known === undefined) read.set(design, (known = new Map<Grant, Node | null>()));
  let condition = known.get(grant);
  if (condition === undefined) known.set(grant, (condition = readCondition(design, grant)));
  return condition;
}

function readCondition(design: AppDesign, grant: Grant): Node | null {
  if (grant.condition.trim() === '') return null;
  const checked = check(grant.condition, { design, table: grant.table }, wants.truth);
  if (!checked.ok) throw new TypeError(`A condition of the design cannot be read: ${grant.condition}`);
  return checked.node;
}

/** All grants of a member's roles for a table, those that do not hold among them. */
export function grantsOf(design: AppDesign, person: Person, table: string): readonly GrantOfRole[] {
  if (person.role !== 'member') return [];
  const lacksTie = (condition: Node): boolean => [...everyNode(condition)].some((node) => node.kind === 'tied' && person.ties[node.tie.id] === undefined);
  return design.roles
    .filter((role) => person.roles.includes(role.id))
    .flatMap((role): GrantOfRole[] => [
      ...(role.everything ? [{ role, grant: null, condition: null, lacksTie: false }] : []),
      ...role.grants
        .filter((grant) => grant.table === table)
        .map((grant): GrantOfRole => {
          const condition = conditionOf(design, grant);
          return { role, grant, condition, lacksTie: condition !== null && lacksTie(condition) };
        }),
    ]);
}

/** The ties without which some grant of a role does not hold. */
export function tiesOfRole(design: AppDesign, role: Role): readonly string[] {
  const nodes = role.grants.flatMap((grant) => conditionOf(design, grant) ?? []);
  return [...new Set(nodes.flatMap((node) => [...everyNode(node)].flatMap((each) => (each.kind === 'tied' ? [each.tie.id] : []))))];
}

const withheld = (action: RecordAction, grant: Grant | null): ReadonlySet<string> =>
  new Set(grant === null ? [] : action === 'see' || action === 'export' ? grant.hidden : [...grant.hidden, ...grant.locked]);

/** The records of a table, and which of their fields, for which a person can do something. */
export function sightOf(design: AppDesign, person: Person, table: string, action: RecordAction): Sight {
  if (person.role === 'builder') return { kind: 'all' };
  const known = knownTable(design, table);
  const sides = known === undefined ? null : sidesOf(design, known);
  if (sides !== null) return sightOfLink(sides, action, (side, what) => sightOf(design, person, side, what));
  const held = grantsOf(design, person, table).filter(
    (grant) => !grant.lacksTie && (grant.grant === null || (grant.grant[action] && (action !== 'export' || grant.grant.see))),
  );
  const grants = held.map(({ grant, condition }) => ({ condition, withheld: withheld(action, grant) }));
  return grants.some((grant) => grant.condition === null && grant.withheld.size === 0) ? { kind: 'all' } : { kind: 'granted', grants };
}

export const mayDesign = (person: Person): boolean => person.role === 'builder';

/** Puts what `person` can see into a query. There is no other way to a `RestrictedQuery`, and no SQL without one. */
export function restrict<Asked extends Question>(query: Asked, design: AppDesign, person: Person, now: number): RestrictedQuery<Asked> {
  return restrictTo('see', query, design, person, now);
}

/** The same for what leaves as a file: of the table that is asked about, no more than may be exported. */
export function restrictForExport<Asked extends Question>(query: Asked, design: AppDesign, person: Person, now: number): RestrictedQuery<Asked> {
  return restrictTo('export', query, design, person, now);
}

/**
 * The same for what is written to someone by mail: no more than `reader` can see, in the words of `writer`, by whose
 * doing it is written.
 */
export function restrictForMail<Asked extends Question>(query: Asked, design: AppDesign, reader: Person, writer: Person, now: number): RestrictedQuery<Asked> {
  return { ...restrictTo('see', query, design, reader, now), around: circumstancesOf(design, writer, now) };
}

/** The same for asking what could be written of what is asked about. */
export function restrictForWrite<Asked extends Question>(
  action: 'change' | 'remove',
  query: Asked,
  design: AppDesign,
  person: Person,
  now: number,
): RestrictedQuery<Asked> {
  return restrictTo(action, query, design, person, now);
}

function restrictTo<Asked extends Question>(action: RecordAction, query: Asked, design: AppDesign, person: Person, now: number): RestrictedQuery<Asked> {
  const sights = new Map<string, Sight>();
  const sightIn = (table: string): Sight => {
    let sight = sights.get(table);
    if (sight === undefined) sights.set(table, (sight = sightOf(design, person, table, table === query.table ? action : 'see')));
    return sight;
  };
  const around = circumstancesOf(design, person, now);
  return { query, sightIn, around, grantsAround: around } as unknown as RestrictedQuery<Asked>;
}

/**
 * The same for the rules of tables, which are asked of the records as they are: they hold for everyone alike, and what
 * comes out of them is only whether a record meets them.
 */
export function restrictForRules<Asked extends Question>(query: Asked, design: AppDesign, person: Person, now: number): RestrictedQuery<Asked> {
  const around = circumstancesOf(design, person, now);
  return { query, sightIn: () => ({ kind: 'all' }), around, grantsAround: around } as unknown as RestrictedQuery<Asked>;
}

/** What expressions can know of who asks, when and where. `now` is in milliseconds since 1970 UTC. */
export const circumstancesOf = (design: AppDesign, person: Person, now: number): Circumstances => ({
  now,
  zone: design.timeZone,
  me: {
    Name: person.name,
    Mail: person.mail,
    Roles: person.role === 'builder' ? ['builder'] : design.roles.filter((role) => person.roles.includes(role.id)).map((role) => role.name),
  },
  ties: person.ties,
  person: person.id,
});

/** What changes the records. */
type WriteAction = Exclude<RecordAction, 'see' | 'export'>;

declare const permitted: unique symbol;
/** That a person can write to a table, to some records of it at least. Only `permit` makes one. */
export interface Permit {
  readonly person: Person;
  readonly table: Table;
  readonly action: WriteAction;
  /** To which records, and which of their fields. */
  readonly sight: Sight;
  readonly [permitted]: true;
}

/** The permit to write, or null when no grant gives it. */
export function permit(design: AppDesign, person: Person, table: Table, action: WriteAction): Permit | null {
  const sight = sightOf(design, person, table.id, action);
  return sight.kind === 'granted' && sight.grants.length === 0 ? null : ({ person, table, action, sight } as unknown as Permit);
}

/** The permit to make a move: it lets change the status of records, and nothing else of them. Null when it is not theirs to make. */
export function permitMove(design: AppDesign, person: Person, route: Route, move: Move): Permit | null {
  if (!mayMove(move, person)) return null;
  return { person, table: tableOf(design, route.table), action: 'change', sight: { kind: 'all' } } as unknown as Permit;
}

/** What a person can do with a table at all, for screens: where a record decides, the server is asked. */
export interface TableRights {
  readonly see: boolean;
  readonly add: boolean;
  readonly change: boolean;
  readonly remove: boolean;
  readonly export: boolean;
  /** Fields that no grant shows; where no record is shown at all, those that none lets fill. */
  readonly hidden: readonly string[];
  /** Fields that no grant lets change. */
  readonly locked: readonly string[];
}

function mayAny(design: AppDesign, person: Person, table: string, action: RecordAction): boolean {
  const sight = sightOf(design, person, table, action);
  return sight.kind === 'all' || sight.grants.length > 0;
}

export function rightsOf(design: AppDesign, person: Person, table: Table): TableRights {
  const any = (action: RecordAction): boolean => mayAny(design, person, table.id, action);
  const never = (action: RecordAction): readonly string[] => {
    const sight = sightOf(design, person, table.id, action);
    return sight.kind === 'all' ? [] : table.fields.map((field) => field.id).filter((id) => sight.grants.every((grant) => grant.withheld.has(id)));
  };
  const both = new Set(never('add'));
  const routed = routeOf(design, table.id);
  return {
    see: any('see'),
    add: any('add'),
    change: any('change'),
    remove: any('remove'),
    export: any('export'),
    hidden: any('see') ? never('see') : [...both],
    // The status of a route is nobody's to write: it changes by moves.
    locked: [...new Set([...never('change').filter((id) => both.has(id)), ...(routed === undefined ? [] : [routed.field])])],
  };
}

/** The menu of someone's Desk: the pages of their roles, one after another, as far as they can see them. */
export function menuOf(design: AppDesign, person: Person): readonly Page[] {
  const roles = design.roles.filter((role) => person.role === 'member' && person.roles.includes(role.id));
  const isEvery = roles.length === 0 || roles.some((role) => role.menu.length === 0);
  const sees = (table: string): boolean => mayAny(design, person, table, 'see');
  // Anyone who sees a list adds there; a form is in the menu by itself when it was put there, or is all that is open.
  const isOpen = (page: Page): boolean =>
    page.kind === 'form'
      ? tablesOfPage(design, page).some((table) => mayAny(design, person, table, 'add') && !(isEvery && sees(table)))
      : tablesOfPage(design, page).some(sees);
  const chosen = isEvery ? everyPage(design) : roles.flatMap((role) => role.menu);
  const each = new Map(chosen.map((page) => [JSON.stringify(page), page]));
  return [...each.values()].filter(isOpen);
}
