import type { TargetName } from './part.js';

/** What can be wrong with a design or a change of it, as data; `designMessage` puts it into words. */
export type DesignIssue =
  | { readonly code: 'shape'; readonly path: readonly PropertyKey[]; readonly problem: string }
  | {
      readonly code: 'unknown';
      readonly what: TargetName;
      readonly id: string;
    }
  | { readonly code: 'id_taken'; readonly id: string }
  | {
      readonly code: 'name_taken';
      readonly what: TargetName | 'children' | 'choice' | 'move' | 'column';
      readonly name: string;
      readonly within: string;
    }
  /** One of the forms and one of the lists of a table opens where none is named. */
  | { readonly code: 'default'; readonly what: 'form' | 'list'; readonly table: string; readonly has: number }
  /** A role opens with one form and one list of each table. */
  | { readonly code: 'default_twice'; readonly what: 'form' | 'list'; readonly table: string; readonly role: string }
  | { readonly code: 'name_reserved'; readonly name: string }
  /** An expression that could not be read in the design: where it is, and what is wrong with it. */
  | { readonly code: 'expression'; readonly place: string; readonly owner: string; readonly problem: string }
  /** Expressions need what was to go: where they are. */
  | { readonly code: 'still_used'; readonly places: readonly string[] }
  | { readonly code: 'relationship_kind'; readonly field: string }
  /** Something else is made of it: that has to go first. */
  | { readonly code: 'in_use'; readonly what: TargetName; readonly by: string }
  | { readonly code: 'formula_kind'; readonly field: string }
  | { readonly code: 'broken'; readonly problem: string };

/** Says in words which part is meant, what is wrong with it and what would be right. */
export function designMessage(issue: DesignIssue): string {
  switch (issue.code) {
    case 'shape':
      return `${issue.path.length > 0 ? `${issue.path.join('.')}: ` : ''}${issue.problem}`;
    case 'unknown':
      return `There is no ${issue.what} "${issue.id}" in this app. Reload the page to see the current design.`;
    case 'id_taken':
      return `The id "${issue.id}" is in use already.`;
    case 'name_taken':
      return `There is already ${issue.what === 'children' ? 'a list of children' : issue.what === 'automation' ? 'an automation' : `a ${issue.what}`} called "${issue.name}" in ${issue.within}. Choose another name.`;
    case 'default':
      return issue.has === 0
        ? `${issue.table} needs a default ${issue.what}. Make another ${issue.what} the default first.`
        : `${issue.table} has ${issue.has} default ${issue.what}s. Only one can be the default.`;
    case 'default_twice':
      return `Two ${issue.what}s of ${issue.table} are the default of ${issue.role}. Only one can be.`;
    case 'name_reserved':
      return `"${issue.name}" is a name that every table has already (id, rev, created at, created by, updated at, updated by). Choose another name.`;
    case 'expression':
      return `${issue.place.charAt(0).toUpperCase()}${issue.place.slice(1)}: ${issue.problem}`;
    case 'still_used':
      return `It is still used in ${issue.places.join('; ')}. Take it out there first.`;
    case 'relationship_kind':
      return `"${issue.field}" refers to another table. Remove the field to end the relationship; it cannot become another kind.`;
    case 'in_use':
      return `This ${issue.what} cannot go yet: ${issue.by} is made from it. Remove that first, or have it made from something else.`;
    case 'formula_kind':
      return `"${issue.field}" cannot turn from values into a formula or back: make a new field, and remove this one when it is no longer needed.`;
    case 'broken':
      return issue.problem;
    default:
      return issue satisfies never;
  }
}
