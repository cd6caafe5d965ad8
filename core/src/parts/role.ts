import type { Role } from '../design/design.js';
import { wants } from '../feel/wants.js';
import { targetOf } from './page.js';
import { mapped, narrowedIfOf, staying, withParts, writtenUnlessEmpty, type PartKind, type Reference } from './part.js';

export const role: PartKind<Role> = {
  word: 'role',
  uniqueWithin: () => '',
  inner: (part) => part.grants,
  innerIds: 'kind',
  references: (part, design) => [
    ...part.grants.flatMap((grant): Reference[] => [
      { to: 'table', id: grant.table },
      // Fields of a table that is missing are not missed on their own.
      ...(design.tables.some((table) => table.id === grant.table)
        ? [...grant.hidden, ...grant.locked].map((id): Reference => ({ to: 'field', id, table: grant.table }))
        : []),
    ]),
    ...part.menu.map(targetOf),
  ],
  issues: () => [],
  without: (part, gone) => {
    const grants = staying(part.grants, (grant) => !gone.has('table', grant.table));
    return withParts(part, {
      grants: mapped(grants, (grant) =>
        withParts(grant, {
          hidden: staying(grant.hidden, (id) => !gone.has('field', id)),
          locked: staying(grant.locked, (id) => !gone.has('field', id)),
        }),
      ),
      menu: staying(part.menu, (page) => {
        const { to, id } = targetOf(page);
        return !gone.has(to, id);
      }),
    });
  },
  narrowed: (part, ...further) => withParts(part, { grants: mapped(part.grants, (grant) => narrowedIfOf(grant, ...further)) }),
  expressions: (part, design, write) =>
    withParts(part, {
      grants: mapped(part.grants, (grant) => {
        const table = design.tables.find((each) => each.id === grant.table)?.name ?? '';
        return withParts(grant, {
          condition: writtenUnlessEmpty(write, {
            key: `grant ${grant.id}`,
            label: `a grant of the role ${part.name} for ${table}`,
            text: grant.condition,
            table: grant.table,
            wanted: wants.truth,
            owner: { kind: 'role', id: part.id },
          }),
        });
      }),
    }),
  toMember: ({ id, name }, member) => (member.holds(id) ? { id, name, description: '', everything: false, grants: [], menu: [] } : null),
  expressionsReadOthers: true,
};
