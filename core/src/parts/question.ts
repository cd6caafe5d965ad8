/** What queries, and the rows of reports and tiles, have in common: a table, a condition and columns. */
import type { SavedQuery } from '../design/saved-query.js';
import { wants } from '../feel/wants.js';
import type { DesignIssue } from './issues.js';
import { mapped, withParts, writtenUnlessEmpty, type ExpressionPlace, type Write } from './part.js';
import { folded, repeated } from './repeated.js';
import { wantedColumn } from './wanted.js';

type Asked = Pick<SavedQuery, 'table' | 'condition' | 'columns'>;

export function columnIssues(query: Pick<SavedQuery, 'columns'>, within: string): readonly DesignIssue[] {
  const issues: DesignIssue[] = [];
  for (const column of repeated(query.columns, (each) => each.id))
    issues.push({ code: 'broken', problem: `Two columns of ${within} share the id ${column.id}` });
  for (const column of repeated(query.columns, (each) => folded(each.name))) issues.push({ code: 'name_taken', what: 'column', name: column.name, within });
  for (const column of query.columns)
    if (column.expression.trim() === '' && column.summary !== 'count')
      issues.push({ code: 'broken', problem: `The column ${column.name} of ${within} says nothing yet.` });
  return issues;
}

/** @param key tells the question apart from others of the same part */
export function writtenQuestion<Q extends Asked>(query: Q, within: string, key: string, owner: ExpressionPlace['owner'], write: Write): Q {
  const { table } = query;
  const condition = writtenUnlessEmpty(write, {
    key: `${key}condition`,
    label: `the condition of ${within}`,
    text: query.condition,
    table,
    wanted: wants.truth,
    owner,
  });
  const columns = mapped(query.columns, (column) =>
    withParts(column, {
      expression: writtenUnlessEmpty(write, {
        key: `${key}column ${column.id}`,
        label: `the column ${column.name} of ${within}`,
        text: column.expression,
        table,
        wanted: wantedColumn(column.summary),
        owner,
      }),
    }),
  );
  return withParts(query, { condition, columns } as Partial<Q>);
}
