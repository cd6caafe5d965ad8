import { type Form, type Relationship } from '../design/design.js';
import { indexedBy } from './repeated.js';
import { forMembers } from './screen.js';
import { staying, withParts, type PartKind, type Reference } from './part.js';

const relationshipsById = indexedBy<Relationship>((one) => one.id);

export const form: PartKind<Form> = {
  word: 'form',
  uniqueWithin: (part) => part.table,
  inner: () => [],
  innerIds: 'part',
  references: (part) => [
    { to: 'table', id: part.table },
    ...part.roles.map((id): Reference => ({ to: 'role', id })),
    ...part.items.map((item): Reference =>
      item.kind === 'field' ? { to: 'field', id: item.field, table: part.table } : { to: 'relationship', id: item.relationship },
    ),
  ],
  issues: (part, design) =>
    part.items.flatMap((item) =>
      item.kind === 'children' &&
      relationshipsById(design.relationships)
        .get(item.relationship)
        ?.some((one) => one.parent !== part.table) === true
        ? [{ code: 'unknown', what: 'relationship', id: item.relationship } as const]
        : [],
    ),
  without: (part, gone) =>
    gone.has('table', part.table)
      ? 'remove'
      : withParts(part, {
          roles: staying(part.roles, (role) => !gone.has('role', role)),
          items: staying(part.items, (item) => !(item.kind === 'field' ? gone.has('field', item.field) : gone.has('relationship', item.relationship))),
        }),
  expressions: (part) => part,
  toMember: (part, member) => forMembers(part, member),
  expressionsReadOthers: false,
};
