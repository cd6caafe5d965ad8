import { type Relationship, type Table } from '../design/design.js';
import type { DesignIssue } from './issues.js';
import type { PartKind } from './part.js';
import { folded, indexedBy } from './repeated.js';

const tablesById = indexedBy<Table>((each) => each.id);
const ofParent = indexedBy<Relationship>((each) => each.parent);

export const relationship: PartKind<Relationship> = {
  word: 'relationship',
  uniqueWithin: null,
  inner: () => [],
  innerIds: 'part',
  references: (part) => [
    { to: 'table', id: part.parent },
    { to: 'table', id: part.child },
    { to: 'field', id: part.field, table: part.child },
  ],
  issues: (part, design) => {
    const issues: DesignIssue[] = [];
    const [parent] = tablesById(design.tables).get(part.parent) ?? [];
    const [child] = tablesById(design.tables).get(part.child) ?? [];
    const field = child?.fields.find((each) => each.id === part.field);
    if (field !== undefined && (field.kind !== 'reference' || field.relationship !== part.id)) issues.push({ code: 'unknown', what: 'field', id: part.field });
    if (field?.required === true && part.whenParentRemoved === 'clear')
      issues.push({ code: 'broken', problem: `${field.name} is required, so it can't be cleared when its record is removed` });
    const siblings = ofParent(design.relationships).get(part.parent) ?? [];
    const namesake = siblings.find((sibling) => folded(sibling.childrenName) === folded(part.childrenName));
    if (namesake !== undefined && namesake.id !== part.id)
      issues.push({ code: 'name_taken', what: 'children', name: part.childrenName, within: parent?.name ?? part.parent });
    return issues;
  },
  without: (part, gone) => (gone.has('field', part.field) || gone.has('table', part.parent) || gone.has('table', part.child) ? 'remove' : part),
  expressions: (part) => part,
  toMember: (part) => part,
  expressionsReadOthers: false,
};
