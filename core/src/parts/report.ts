import { type Report } from '../design/report.js';
import type { DesignIssue } from './issues.js';
import { withParts, type PartKind } from './part.js';
import { columnIssues, sourceGone, sourceReference, writtenSource } from './question.js';
import { repeated } from './repeated.js';
import { missingColumns, noRows } from './rows.js';

export const report: PartKind<Report> = {
  word: 'report',
  uniqueWithin: () => '',
  inner: () => [],
  innerIds: 'part',
  references: (part) => [sourceReference(part.source)],
  issues: (part, design) => {
    const label = `the report ${part.name}`;
    const issues: DesignIssue[] = part.source.kind === 'table' ? [...columnIssues(part.source, label)] : [];
    issues.push(
      ...missingColumns(
        part.source,
        [...part.fields, ...part.groups, ...part.order].map((one) => one.column),
        label,
        design,
      ),
    );
    for (const field of repeated(part.fields, (one) => one.column))
      issues.push({ code: 'broken', problem: `${part.name} shows the column ${field.column} twice` });
    for (const group of repeated(part.groups, (one) => one.column))
      issues.push({ code: 'broken', problem: `${part.name} is grouped by the column ${group.column} twice` });
    return issues;
  },
  without: (part, gone) => {
    const state = sourceGone(part.source, gone);
    return state === 'stays' ? part : state === 'goes' ? 'remove' : { by: `the report ${part.name}` };
  },
  expressions: (part, _, write) =>
    withParts(part, { source: writtenSource(part.source, `the report ${part.name}`, '', { kind: 'report', id: part.id }, write) }),
  toMember: (part, member) => (member.opens({ kind: 'report', report: part.id }) ? { ...part, source: noRows, fields: [], groups: [], order: [] } : null),
  expressionsReadOthers: false,
};
