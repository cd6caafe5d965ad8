import { type Report } from '../design/report.js';
import type { DesignIssue } from './issues.js';
import { withParts, type PartKind } from './part.js';
import { forPeopleOnly, visitorRole, withoutVisitors } from './published.js';
import { repeated } from './repeated.js';
import { missingColumns, narrowedSource, noRows, sourceGone, sourceIssues, sourceReference, writtenSource } from './row-sources.js';

export const report: PartKind<Report> = {
  word: 'report',
  uniqueWithin: () => '',
  inner: () => [],
  innerIds: 'part',
  references: (part) => [sourceReference(part.source), ...visitorRole(part)],
  issues: (part, design) => {
    const label = `the report ${part.name}`;
    const issues: DesignIssue[] = [...sourceIssues(part.source, label)];
    issues.push(
      ...missingColumns(
        part.source,
        [...part.fields, ...part.groups, ...part.order].map((field) => field.column),
        label,
        design,
      ),
    );
    for (const field of repeated(part.fields, (each) => each.column))
      issues.push({ code: 'broken', problem: `${part.name} shows the column ${field.column} twice` });
    for (const group of repeated(part.groups, (each) => each.column))
      issues.push({ code: 'broken', problem: `${part.name} is grouped by the column ${group.column} twice` });
    return issues;
  },
  without: (part, gone) => {
    const state = sourceGone(part.source, gone);
    return state === 'stays' ? withoutVisitors(part, gone) : state === 'goes' ? 'remove' : { by: `the report ${part.name}` };
  },
  narrowed: (part, ...further) => withParts(part, { source: narrowedSource(part.source, ...further) }),
  expressions: (part, _, write) =>
    withParts(part, { source: writtenSource(part.source, `the report ${part.name}`, '', { kind: 'report', id: part.id }, write) }),
  toMember: (part, member) =>
    member.opens({ kind: 'report', report: part.id }) ? { ...forPeopleOnly(part), source: noRows, fields: [], groups: [], order: [] } : null,
  expressionsReadOthers: false,
};
