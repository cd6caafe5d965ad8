/** What a role can do with a table, in as few words as fit a cell. */
import { rightsOf, routeOf, type AppDesign, type Grant, type Role, type Table } from '@bibliona/core';

const verbs = [
  ['see', 'sees'],
  ['add', 'adds'],
  ['change', 'changes'],
  ['remove', 'removes'],
  ['export', 'exports'],
] as const;

/** `all` of the records, or `some`: those that a condition names. */
export interface GrantWord {
  readonly verb: string;
  readonly reach: 'all' | 'some';
}

export function grantWords(role: Role, table: string): readonly GrantWord[] {
  if (role.everything) return verbs.map(([, verb]) => ({ verb, reach: 'all' }));
  const grants = role.grants.filter((grant) => grant.table === table);
  return verbs.flatMap(([action, verb]): GrantWord[] => {
    const giving = grants.filter((grant) => grant[action]);
    if (giving.length === 0) return [];
    return [{ verb, reach: giving.some((grant) => grant.condition.trim() === '') ? 'all' : 'some' }];
  });
}

/** The words with those of the same reach taken together, as a cell has room for: "sees, adds some". */
export function grouped(words: readonly GrantWord[]): readonly { readonly words: string; readonly reach: GrantWord['reach'] | null }[] {
  if (words.length === verbs.length && words.every((word) => word.reach === 'all')) return [{ words: 'everything', reach: null }];
  return (['all', 'some'] as const).flatMap((reach) => {
    const said = words.filter((word) => word.reach === reach).map((word) => word.verb);
    return said.length === 0 ? [] : [{ words: said.join(', '), reach }];
  });
}

const mostNamed = 2;
const named = (table: Table, ids: readonly string[]): string =>
  ids.length > mostNamed ? `${ids.length} fields` : table.fields.flatMap((field) => (ids.includes(field.id) ? [field.name] : [])).join(', ');

/** What a role does not see, or sees without changing it, of the records of a table that its grants are about. */
export function exceptions(design: AppDesign, role: Role, table: Table): readonly string[] {
  if (role.everything || !role.grants.some((grant) => grant.table === table.id)) return [];
  // Somebody with this role alone, linked to whatever records its conditions ask for.
  const ties = Object.fromEntries(design.ties.map((tie) => [tie.id, 0]));
  const rights = rightsOf(design, { id: 0, name: '', mail: '', role: 'member', roles: [role.id], ties }, table);
  const status = routeOf(design, table.id)?.field;
  const locked = rights.add || rights.change ? rights.locked.filter((id) => id !== status && !rights.hidden.includes(id)) : [];
  return [...(rights.hidden.length === 0 ? [] : [`not ${named(table, rights.hidden)}`]), ...(locked.length === 0 ? [] : [`${named(table, locked)} read-only`])];
}

/** The role with a grant put in its place, or at the end when it is new. */
export const withGrant = (role: Role, grant: Grant): Role => ({
  ...role,
  grants: role.grants.some((each) => each.id === grant.id) ? role.grants.map((each) => (each.id === grant.id ? grant : each)) : [...role.grants, grant],
});
export const withoutGrant = (role: Role, id: string): Role => ({ ...role, grants: role.grants.filter((grant) => grant.id !== id) });
