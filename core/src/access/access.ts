/** What a person may do. Grants only add up; where nothing grants, nothing is allowed. */
import type { AppDesign, Table } from '../design/design.js';
import { tableOf } from '../design/read.js';
import type { Circumstances } from '../expression/bring.js';
import { everything, nothing, type Condition, type Query, type Question, type RestrictedQuery } from '../query/query.js';

export const roles = ['builder', 'member'] as const;
export type Role = (typeof roles)[number];

/** Whoever asks: known by a session, and what they are to the app that is asked. */
export interface Person {
  readonly id: number;
  readonly name: string;
  readonly mail: string;
  /** Null: they are nothing to this app. */
  readonly role: Role | null;
}

export type RecordAction = 'see' | 'add' | 'change' | 'remove';

/** The records of a table for which a person may do something, as a condition that is woven into every statement. */
export function grantedRows(person: Person, table: Table, action: RecordAction): Condition {
  switch (person.role) {
    case 'builder':
    case 'member':
      // Both roles reach every record today. Asking per table and action keeps every caller ready for narrower grants.
      return grantsAll(table, action) ? everything : nothing;
    case null:
      return nothing;
    default:
      return person.role satisfies never;
  }
}

const grantsAll = (_table: Table, _action: RecordAction): boolean => true;

export const mayDesign = (person: Person): boolean => person.role === 'builder';

/** Puts what `person` may see into a query. There is no other way to a `RestrictedQuery`, and no SQL without one. */
export function restrict<Asked extends Question>(query: Asked, design: AppDesign, person: Person, now: number): RestrictedQuery<Asked> {
  const rowsOf = (id: string): Condition => grantedRows(person, tableOf(design, id), 'see');
  const where: Condition = { kind: 'all', of: [query.where, rowsOf(query.table)] };
  return { query: { ...query, where }, rowsOf, around: circumstancesOf(design, person, now) } as unknown as RestrictedQuery<Asked>;
}

/**
 * The same for the checks of tables. They hold for everyone alike: they see all records, whoever saves, and what comes
 * out of them is only whether a record meets them.
 */
export function restrictForChecks(query: Query, design: AppDesign, person: Person, now: number): RestrictedQuery {
  return { query, rowsOf: () => everything, around: circumstancesOf(design, person, now) } as unknown as RestrictedQuery;
}

/** What expressions may know of who asks, when and where. `now` is in milliseconds since 1970 UTC. */
export const circumstancesOf = (design: AppDesign, person: Person, now: number): Circumstances => ({
  now,
  zone: design.timeZone,
  me: { Name: person.name, Mail: person.mail, Roles: person.role === null ? [] : [person.role] },
});

declare const permitted: unique symbol;
/** That a person may write to a table, and to which records. Only `permit` makes one. */
export interface Permit {
  readonly person: Person;
  readonly table: Table;
  readonly action: Exclude<RecordAction, 'see'>;
  readonly rows: Condition;
  readonly [permitted]: true;
}

/** The permit to write, or null when no grant gives it. */
export function permit(person: Person, table: Table, action: Exclude<RecordAction, 'see'>): Permit | null {
  const rows = grantedRows(person, table, action);
  return rows.kind === 'none' ? null : ({ person, table, action, rows } as unknown as Permit);
}
