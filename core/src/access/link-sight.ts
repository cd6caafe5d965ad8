/** What a person can do with the pairs of a link, which follows from what they can do with the records of its two tables. */
import type { LinkSide } from '../design/read.js';
import type { Node } from '../expression/node.js';
import type { Sight } from '../query/query.js';

/** `export`: to save many of them as a file. */
export type RecordAction = 'see' | 'add' | 'change' | 'remove' | 'export';

const nothing: Sight = { kind: 'granted', grants: [] };
const isNothing = (sight: Sight): boolean => sight.kind === 'granted' && sight.grants.length === 0;

/** A condition for the records of one side of a link, asked of the pairs; null: for all of them. */
function ofSide({ field, table, relationship }: LinkSide, sight: Sight): Node | null {
  const conditions = sight.kind === 'all' ? [null] : sight.grants.map((grant) => grant.condition);
  const held = conditions.filter((condition) => condition !== null);
  if (held.length < conditions.length) return null;
  const at = { from: 0, to: 0 };
  const truth = { kind: 'boolean' } as const;
  const self: Node = { ...at, kind: 'self', table: relationship.child, type: { kind: 'record', table: relationship.child } };
  const record: Node = { ...at, kind: 'parent', of: self, field, table: table.id, nameAt: at, type: { kind: 'record', table: table.id } };
  // Computed of the record that the pair names, as a formula of it would be.
  return { ...at, kind: 'formula', of: record, field, nameAt: at, type: truth, body: { ...at, kind: 'or', of: held, type: truth } };
}

/**
 * Pairs of a link have no grants of their own. Who sees both records sees that they belong together; who can change one of
 * them, and sees the other, can say so or take it back. Someone who adds a record can do so with it, which is asked at the save.
 * @param sightOf what the person can do with the records of a table
 */
export function sightOfLink(sides: readonly [LinkSide, LinkSide], action: RecordAction, sightOf: (table: string, action: RecordAction) => Sight): Sight {
  const of = (side: LinkSide, what: RecordAction): Sight => sightOf(side.table.id, what);
  const pairs = (first: RecordAction, second: RecordAction): Sight => {
    const sights = [of(sides[0], first), of(sides[1], second)] as const;
    if (sights.some(isNothing)) return nothing;
    const conditions = sides.flatMap((side, i) => ofSide(side, sights[i] as Sight) ?? []);
    if (conditions.length === 0) return { kind: 'all' };
    return { kind: 'granted', grants: [{ condition: { from: 0, to: 0, kind: 'and', of: conditions, type: { kind: 'boolean' } }, withheld: new Set() }] };
  };
  switch (action) {
    case 'see':
    case 'export':
      return pairs('see', 'see');
    case 'change':
      return nothing;
    case 'add':
    case 'remove': {
      const either = [pairs('change', 'see'), pairs('see', 'change')];
      if (either.some((sight) => sight.kind === 'all')) return { kind: 'all' };
      const grants = either.flatMap((sight) => (sight.kind === 'all' ? [] : sight.grants));
      const addsOne = action === 'add' && sides.some((side, i) => !isNothing(of(side, 'add')) && !isNothing(of(sides[1 - i] as LinkSide, 'see')));
      return { kind: 'granted', grants: addsOne ? [...grants, { condition: null, withheld: new Set() }] : grants };
    }
    default:
      return action satisfies never;
  }
}
