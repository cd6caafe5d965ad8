import { type Relationship } from '../design/design.js';
import type { DesignIssue } from './issues.js';
import type { PartKind } from './part.js';

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
    const nameOf = (table: string): string => design.tables.find((one) => one.id === table)?.name ?? table;
    const field = design.tables.find((one) => one.id === part.child)?.fields.find((one) => one.id === part.field);
    if (field !== undefined && (field.kind !== 'reference' || field.relationship !== part.id)) issues.push({ code: 'unknown', what: 'field', id: part.field });
    if (field?.required === true && part.whenParentRemoved === 'clear')
      issues.push({ code: 'broken', problem: `${field.name} is required, so it can't be cleared when its record is removed` });
    const namesake = design.relationships.find((one) => one.parent === part.parent && one.childrenName.toLowerCase() === part.childrenName.toLowerCase());
    if (namesake !== undefined && namesake.id !== part.id)
      issues.push({ code: 'name_taken', what: 'children', name: part.childrenName, within: nameOf(part.parent) });
    return issues;
  },
  without: (part, gone) => (gone.has('field', part.field) || gone.has('table', part.parent) || gone.has('table', part.child) ? 'remove' : part),
  expressions: (part) => part,
  toMember: (part) => part,
  expressionsReadOthers: false,
};
