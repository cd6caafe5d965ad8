import { type List } from '../design/design.js';
import { wants } from '../feel/wants.js';
import { forMembers } from './screen.js';
import { staying, withParts, writtenUnlessEmpty, type PartKind } from './part.js';

export const list: PartKind<List> = {
  word: 'list',
  uniqueWithin: (part) => part.table,
  inner: () => [],
  innerIds: 'part',
  references: (part) => [
    { to: 'table', id: part.table },
    ...part.roles.map((id) => ({ to: 'role', id }) as const),
    ...[...part.columns, ...(part.sort === null ? [] : [part.sort.field])].map((id) => ({ to: 'field', id, table: part.table }) as const),
  ],
  issues: () => [],
  without: (part, gone) =>
    gone.has('table', part.table)
      ? 'remove'
      : withParts(part, {
          roles: staying(part.roles, (role) => !gone.has('role', role)),
          columns: staying(part.columns, (id) => !gone.has('field', id)),
          sort: part.sort !== null && gone.has('field', part.sort.field) ? null : part.sort,
        }),
  expressions: (part, _, write) =>
    withParts(part, {
      condition: writtenUnlessEmpty(write, {
        key: 'condition',
        label: `the condition of the list ${part.name}`,
        text: part.condition,
        table: part.table,
        wanted: wants.truth,
        owner: { kind: 'list', id: part.id },
      }),
    }),
  // The server applies the condition of a list.
  toMember: (part, member) => {
    const told = forMembers(part, member);
    return told === null ? null : withParts(told, { condition: '' });
  },
  expressionsReadOthers: false,
};
