import { type Route } from '../design/route.js';
import { wants } from '../feel/wants.js';
import type { DesignIssue } from './issues.js';
import { mapped, staying, withParts, writtenUnlessEmpty, type PartKind, type Reference } from './part.js';
import { folded, repeated } from './repeated.js';

export const route: PartKind<Route> = {
  word: 'route',
  uniqueWithin: () => '',
  inner: (part) => part.moves,
  innerIds: 'kind',
  references: (part) => [
    { to: 'table', id: part.table },
    { to: 'field', id: part.field, table: part.table },
    ...part.moves.flatMap((move) => move.roles.map((id): Reference => ({ to: 'role', id }))),
  ],
  issues: (part, design) => {
    const issues: DesignIssue[] = [];
    const broken = (problem: string): number => issues.push({ code: 'broken', problem });
    if (design.routes.find((each) => each.table === part.table)?.id !== part.id)
      broken(`The records of this table have a route already: ${part.name} cannot be another.`);
    const table = design.tables.find((each) => each.id === part.table);
    const field = table?.fields.find((each) => each.id === part.field);
    if (table === undefined) return issues;
    if (field?.kind !== 'choice') {
      broken(`The route ${part.name} needs a field of choices in ${table.name}: its choices are the statuses.`);
      return issues;
    }
    const isStatus = (id: string): boolean => field.choices.some((choice) => choice.id === id);
    for (const each of repeated(part.statuses, (status) => status.choice)) issues.push({ code: 'id_taken', id: each.choice });
    if (part.statuses.filter((status) => status.kind === 'start' && isStatus(status.choice)).length !== 1)
      broken(`The route ${part.name} needs one status where it begins.`);
    for (const move of part.moves) {
      if (!isStatus(move.from) || !isStatus(move.to))
        broken(`The move ${move.name} of ${part.name} leads from or to a status that no longer exists. Remove the move first.`);
      if (move.from === move.to) broken(`The move ${move.name} of ${part.name} leads nowhere: choose another status to go to.`);
    }
    for (const move of repeated(part.moves, (each) => `${each.from} ${folded(each.name)}`))
      issues.push({ code: 'name_taken', what: 'move', name: move.name, within: part.name });
    return issues;
  },
  without: (part, gone) =>
    gone.has('table', part.table) || gone.has('field', part.field)
      ? 'remove'
      : withParts(part, { moves: mapped(part.moves, (move) => withParts(move, { roles: staying(move.roles, (role) => !gone.has('role', role)) })) }),
  expressions: (part, _, write) =>
    withParts(part, {
      moves: mapped(part.moves, (move) =>
        withParts(move, {
          guard: writtenUnlessEmpty(write, {
            key: `guard ${move.id}`,
            label: `the guard of ${move.name} in the route ${part.name}`,
            text: move.guard,
            table: part.table,
            wanted: wants.truth,
            owner: { kind: 'route', id: part.id },
          }),
        }),
      ),
    }),
  // Of the moves, those that are theirs to make.
  toMember: (part, member) => ({
    ...part,
    description: '',
    moves: part.moves.filter((move) => move.roles.some(member.holds)).map((move) => ({ ...move, roles: move.roles.filter(member.holds) })),
  }),
  expressionsReadOthers: false,
};
