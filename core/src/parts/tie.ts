import { type Tie } from '../design/design.js';
import { feelName } from '../feel/names.js';
import type { PartKind } from './part.js';
import { folded } from './repeated.js';

// What `me.` has for everybody.
const taken = ['name', 'mail', 'roles'];

export const tie: PartKind<Tie> = {
  word: 'linked record',
  uniqueWithin: () => '',
  inner: () => [],
  innerIds: 'part',
  references: (part) => [{ to: 'table', id: part.table }],
  issues: (part) =>
    feelName(part.name) === '' || taken.includes(folded(part.name))
      ? [{ code: 'broken', problem: `"${part.name}" cannot be said after "me.": choose another name` }]
      : [],
  without: (part, gone) => (gone.has('table', part.table) ? 'remove' : part),
  expressions: (part) => part,
  toMember: (part, member) => (member.reaches(part.table) ? part : null),
  expressionsReadOthers: false,
};
