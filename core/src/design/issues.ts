/** What can be wrong with a design or a change of it, as data; `designMessage` puts it into words. */
export type DesignIssue =
  | { readonly code: 'shape'; readonly path: readonly PropertyKey[]; readonly problem: string }
  | { readonly code: 'unknown'; readonly what: 'table' | 'field' | 'relationship' | 'form' | 'list'; readonly id: string }
  | { readonly code: 'id_taken'; readonly id: string }
  | { readonly code: 'name_taken'; readonly what: 'table' | 'field' | 'children' | 'choice'; readonly name: string; readonly within: string }
  | { readonly code: 'name_reserved'; readonly name: string }
  | { readonly code: 'default_unfit'; readonly field: string; readonly problem: string }
  | { readonly code: 'relationship_kind'; readonly field: string }
  | { readonly code: 'caption_unfit'; readonly field: string }
  | { readonly code: 'broken'; readonly problem: string };

/** Says in words which part is meant, what is wrong with it and what would be right. */
export function designMessage(issue: DesignIssue): string {
  switch (issue.code) {
    case 'shape':
      return `${issue.path.length > 0 ? `${issue.path.join('.')}: ` : ''}${issue.problem}`;
    case 'unknown':
      return `There is no ${issue.what} "${issue.id}" in this app any more. Load the page again to see what there is.`;
    case 'id_taken':
      return `The id "${issue.id}" is in use already.`;
    case 'name_taken':
      return `There is already a ${issue.what === 'children' ? 'list of children' : issue.what} called "${issue.name}" in ${issue.within}. Choose another name.`;
    case 'name_reserved':
      return `"${issue.name}" is a name that every table has already (id, rev, created at, created by, updated at, updated by). Choose another name.`;
    case 'default_unfit':
      return `The default of "${issue.field}" does not fit: ${issue.problem}`;
    case 'relationship_kind':
      return `"${issue.field}" refers to another table. Remove the field to end the relationship; it cannot become another kind.`;
    case 'caption_unfit':
      return `"${issue.field}" cannot be part of what a record is called.`;
    case 'broken':
      return issue.problem;
    default:
      return issue satisfies never;
  }
}
