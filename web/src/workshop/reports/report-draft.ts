/** A report while it is being laid out: every edit gives a new one. */
import {
  canTotal,
  kindOf as fieldKind,
  membersOf,
  questionOf,
  shownExpression,
  summaries,
  typeOfField,
  type AppDesign,
  type QueryColumn,
  type QueryOrder,
  type Report,
  type ReportField,
  type ReportGroup,
  type RowSource,
  type Summary,
  type Type,
} from '@bibliona/core';
import { columnType, freeName } from '../queries/query-draft.js';

/** What of the report is chosen, and shown in the details. */
export type Spot = { readonly kind: 'rows' | 'fields' | 'groups' | 'paper' } | { readonly kind: 'field'; readonly column: string };

/** The columns that the rows have to show. */
export const columnsOf = (report: Pick<Report, 'source'>, design: AppDesign): readonly QueryColumn[] => questionOf(report.source, design)?.columns ?? [];

export const columnName = (report: Pick<Report, 'source'>, design: AppDesign, id: string): string =>
  columnsOf(report, design).find((column) => column.id === id)?.name ?? '';

/** The type of what a column shows; null while it cannot be read. */
export function typeOf(report: Pick<Report, 'source'>, design: AppDesign, id: string): Type | null {
  const question = questionOf(report.source, design);
  const column = question?.columns.find((one) => one.id === id);
  return question === null || column === undefined ? null : columnType(question, column, design);
}
export const kindOf = (report: Pick<Report, 'source'>, design: AppDesign, id: string): string | null => typeOf(report, design, id)?.kind ?? null;

/** What can be said of all values of a column. */
export const totalsFor = (kind: string | null): readonly Summary[] => summaries.filter((summary) => canTotal({ kind: kind ?? '' }, summary));

// Parts of the width: texts want the most of it.
const shares: Readonly<Record<string, number>> = { number: 6, date: 6, boolean: 4 };
export const fieldFor = (column: string, kind: string | null): ReportField => ({ column, share: shares[kind ?? ''] ?? 10, wraps: true, total: null });

export const editField = (report: Report, column: string, part: Partial<ReportField>): Report => ({
  ...report,
  fields: report.fields.map((field) => (field.column === column ? { ...field, ...part } : field)),
});

export const withoutField = (report: Report, column: string): Report => pruned({ ...report, fields: report.fields.filter((field) => field.column !== column) });

/** The field one place earlier (-1) or later (1), where there is one. */
export function movedField(report: Report, column: string, by: -1 | 1): Report {
  const from = report.fields.findIndex((one) => one.column === column);
  const field = report.fields[from];
  if (field === undefined || from + by < 0 || from + by >= report.fields.length) return report;
  const rest = report.fields.filter((one) => one !== field);
  return { ...report, fields: [...rest.slice(0, from + by), field, ...rest.slice(from + by)] };
}

/** A further column of the rows, shown as the last field. */
export function withColumn(report: Report, column: QueryColumn, design: AppDesign): Report {
  if (report.source.kind !== 'table') return report;
  const named = { ...column, name: freeName(column.name, report.source.columns) };
  const wider: Report = { ...report, source: { ...report.source, columns: [...report.source.columns, named] } };
  return { ...wider, fields: [...wider.fields, fieldFor(column.id, kindOf(wider, design, column.id))] };
}

export const editColumn = (report: Report, id: string, part: Partial<QueryColumn>): Report =>
  report.source.kind !== 'table'
    ? report
    : { ...report, source: { ...report.source, columns: report.source.columns.map((column) => (column.id === id ? { ...column, ...part } : column)) } };

export const editGroup = (report: Report, column: string, part: Partial<ReportGroup>): Report => ({
  ...report,
  groups: report.groups.map((group) => (group.column === column ? { ...group, ...part } : group)),
});

export const withGroup = (report: Report, column: string): Report => ({
  ...report,
  groups: [...report.groups, { column, direction: 'up', startsPage: false, keepsHeading: true }],
});

export const withoutGroup = (report: Report, column: string): Report => pruned({ ...report, groups: report.groups.filter((group) => group.column !== column) });

/** Without the columns of a table's rows that nothing speaks of any more. */
function pruned(report: Report): Report {
  if (report.source.kind !== 'table') return report;
  const used = new Set([...report.fields, ...report.groups, ...report.order].map((one) => one.column));
  return { ...report, source: { ...report.source, columns: report.source.columns.filter((column) => used.has(column.id)) } };
}

export const withOrder = (report: Report, order: readonly QueryOrder[]): Report => pruned({ ...report, order });

/** The answers to the three questions with which a report begins. */
export interface Answers {
  readonly name: string;
  readonly source: { readonly kind: 'table' | 'query'; readonly id: string };
  /** Fields of the table, or columns of the query. */
  readonly shown: readonly string[];
  readonly groupBy: readonly string[];
  readonly orderBy: string;
  readonly direction: 'up' | 'down';
  readonly arrangement: Report['arrangement'];
  readonly paper: Report['paper'];
}

/** What can be shown, grouped and ordered by: the fields of a table, or the columns of a query. */
export function offered(source: Answers['source'], design: AppDesign): readonly { readonly id: string; readonly name: string }[] {
  if (source.kind === 'query') return (design.queries.find((query) => query.id === source.id)?.columns ?? []).map(({ id, name }) => ({ id, name }));
  return membersOf(design, source.id).flatMap((member) => (member.kind === 'field' ? [{ id: member.field.id, name: member.field.name }] : []));
}

/** The first page that these answers give; `newId` makes the ids of its columns. */
export function reportFrom(answers: Answers, design: AppDesign, id: string, newId: (prefix: string) => string): Report {
  const asked = [...new Set([...answers.groupBy, ...answers.shown, ...(answers.orderBy === '' ? [] : [answers.orderBy])])];
  const { source, idOf } = sourceFrom(answers.source, asked, design, newId);
  const fields = answers.shown
    .filter((one) => !answers.groupBy.includes(one))
    .map((one): ReportField => {
      const column = idOf(one);
      const kind = kindOf({ source }, design, column);
      return { ...fieldFor(column, kind), total: kind === 'number' && isAmount(answers.source, one, design) ? 'sum' : null };
    });
  const groups = answers.groupBy.map((one): ReportGroup => ({ column: idOf(one), direction: 'up', startsPage: false, keepsHeading: true }));
  const order = answers.orderBy === '' ? [] : [{ column: idOf(answers.orderBy), direction: answers.direction }];
  const { name, arrangement, paper } = answers;
  return { id, name, description: '', section: '', source, fields, groups, order, arrangement, paper };
}

function sourceFrom(
  from: Answers['source'],
  asked: readonly string[],
  design: AppDesign,
  newId: (prefix: string) => string,
): { readonly source: RowSource; readonly idOf: (id: string) => string } {
  if (from.kind === 'query') return { source: { kind: 'query', query: from.id }, idOf: (id) => id };
  const ids = new Map(asked.map((id) => [id, newId('c')]));
  const members = membersOf(design, from.id).flatMap((member) => (member.kind === 'field' ? [member] : []));
  const columns: QueryColumn[] = [];
  for (const one of asked) {
    const member = members.find(({ field }) => field.id === one);
    if (member === undefined) continue;
    const { field, name } = member;
    columns.push({
      id: ids.get(one) ?? '',
      name: freeName(field.name, columns),
      expression: shownExpression(field, name),
      summary: null,
      digits: fieldKind(field).digits(field),
    });
  }
  return { source: { kind: 'table', table: from.id, condition: '', columns }, idOf: (id) => ids.get(id) ?? '' };
}

/** Whether numbers of a field are of the kind that adds up: amounts do, years and numbers of things mostly do not. */
function isAmount(source: Answers['source'], id: string, design: AppDesign): boolean {
  if (source.kind === 'query') {
    const query = design.queries.find((one) => one.id === source.id);
    const summary = query?.columns.find((column) => column.id === id)?.summary;
    return summary === 'sum' || summary === 'count';
  }
  const table = design.tables.find((one) => one.id === source.id);
  const field = table?.fields.find((one) => one.id === id);
  if (table === undefined || field === undefined) return false;
  return fieldKind(field).traits.addsUp || (field.kind === 'formula' && typeOfField(design, table.id, field)?.kind === 'number');
}
