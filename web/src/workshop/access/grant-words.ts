/** What a role can do with a table, in as few words as fit a cell. */
import type { Grant, Role } from '@bibliona/core';

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
export function grouped(words: readonly GrantWord[]): readonly { readonly says: string; readonly reach: GrantWord['reach'] | null }[] {
  if (words.length === verbs.length && words.every((word) => word.reach === 'all')) return [{ says: 'everything', reach: null }];
  return (['all', 'some'] as const).flatMap((reach) => {
    const said = words.filter((word) => word.reach === reach).map((word) => word.verb);
    return said.length === 0 ? [] : [{ says: said.join(', '), reach }];
  });
}

/** The role with a grant put in its place, or at the end when it is new. */
export const withGrant = (role: Role, grant: Grant): Role => ({
  ...role,
  grants: role.grants.some((each) => each.id === grant.id) ? role.grants.map((each) => (each.id === grant.id ? grant : each)) : [...role.grants, grant],
});
export const withoutGrant = (role: Role, id: string): Role => ({ ...role, grants: role.grants.filter((grant) => grant.id !== id) });
