import { fieldOfArrangement, furtherFields } from '../design/arrangement.js';
import type { SavedQuery } from '../design/saved-query.js';
import type { DesignIssue } from './issues.js';
import { narrowedIfOf, type PartKind } from './part.js';
import { columnIssues, writtenQuestion } from './question.js';

export const query: PartKind<SavedQuery> = {
  word: 'query',
  uniqueWithin: () => '',
  inner: () => [],
  innerIds: 'part',
  references: (part) => [{ to: 'table', id: part.table }],
  issues: (part) => [
    ...columnIssues(part, part.name),
    ...part.order.flatMap((order): DesignIssue[] =>
      part.columns.some((column) => column.id === order.column)
        ? []
        : [{ code: 'broken', problem: `${part.name} is ordered by a column that it does not have` }],
    ),
    ...columnsOfArrangement(part).flatMap((id): DesignIssue[] =>
      part.columns.some((column) => column.id === id) ? [] : [{ code: 'broken', problem: `${part.name} is arranged by a column that it does not have` }],
    ),
    ...(part.quickFilters ?? []).flatMap((id): DesignIssue[] =>
      part.columns.some((column) => column.id === id) ? [] : [{ code: 'broken', problem: `${part.name} is filtered by a column that it does not have` }],
    ),
  ],
  without: (part, gone) => (gone.has('table', part.table) ? 'remove' : part),
  narrowed: narrowedIfOf,
  expressions: (part, _, write) => writtenQuestion(part, `the query ${part.name}`, '', { kind: 'query', id: part.id }, write),
  // What a page shows comes with its answer; what it is called and how it looks is all that is told here.
  toMember: ({ quickFilters: _, ...part }, member) =>
    member.opens({ kind: 'query', query: part.id }) ? { ...part, condition: '', columns: [], limit: null } : null,
  expressionsReadOthers: false,
};

/** Whether what is in them fits is known where they are read. */
const columnsOfArrangement = ({ arrangement = { kind: 'grid' } }: SavedQuery): readonly string[] =>
  [fieldOfArrangement(arrangement), ...furtherFields(arrangement)].filter((id) => id !== null);
