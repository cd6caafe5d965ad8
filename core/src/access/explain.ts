/** Why someone may or may not: every grant of their roles, and whether it holds. */
import type { AppDesign, Grant, Role } from '../design/design.js';
import { check } from '../expression/check.js';
import { inWords } from '../expression/in-words.js';
import type { Node } from '../expression/node.js';
import { wants } from '../expression/scope.js';
import { lacksTie, type Person, type RecordAction } from './access.js';

export interface GrantInQuestion {
  readonly role: Role;
  readonly condition: Node | null;
  readonly says: string;
  readonly lacksTie: boolean;
  readonly allows: readonly RecordAction[];
  readonly hidden: readonly string[];
  readonly locked: readonly string[];
}

const actions: readonly RecordAction[] = ['see', 'add', 'change', 'remove'];

function inQuestion(design: AppDesign, person: Person, role: Role, grant: Grant): GrantInQuestion {
  const checked = grant.condition.trim() === '' ? null : check(grant.condition, { design, table: grant.table }, wants.truth);
  const condition = checked?.ok === true ? checked.node : null;
  return {
    role,
    condition,
    says: condition === null ? '' : inWords(condition, design),
    lacksTie: condition !== null && lacksTie(condition, person),
    allows: actions.filter((action) => grant[action]),
    hidden: grant.hidden,
    locked: grant.locked,
  };
}

/** All grants of a member's roles for a table, those that do not hold among them. */
export const grantsInQuestion = (design: AppDesign, person: Person, table: string): readonly GrantInQuestion[] =>
  design.roles
    .filter((role) => person.role === 'member' && person.roles.includes(role.id))
    .flatMap((role): GrantInQuestion[] => [
      ...(role.everything ? [{ role, condition: null, says: '', lacksTie: false, allows: actions, hidden: [], locked: [] }] : []),
      ...role.grants.filter((grant) => grant.table === table).map((grant) => inQuestion(design, person, role, grant)),
    ]);
