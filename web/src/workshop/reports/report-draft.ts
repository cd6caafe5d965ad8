/** A report while it is being laid out: every edit gives a new one. */
import {
  canTotal,
  hasOwnColumns,
  questionOf,
  summaries,
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
import { offersOf, rowSources, type PickedRows } from '../rows/row-sources.js';

/** What of the report is chosen, and shown in the details. */
export type Spot = { readonly kind: 'rows' | 'fields' | 'groups' | 'paper' } | { readonly kind: 'field'; readonly column: string };

/** The columns that the rows have to show. */
export const columnsOf = (report: Pick<Report, 'source'>, design: AppDesign): readonly QueryColumn[] => questionOf(report.source, design)?.columns ?? [];

export const columnName = (report: Pick<Report, 'source'>, design: AppDesign, id: string): string =>
  columnsOf(report, design).find((column) => column.id === id)?.name ?? '';

/** The type of what a column shows; null while it cannot be read. */
export function typeOf(report: Pick<Report, 'source'>, design: AppDesign, id: string): Type | null {
  const question = questionOf(report.source, design);
  const column = question?.columns.find((each) => each.id === id);
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
  const from = report.fields.findIndex((each) => each.column === column);
  const field = report.fields[from];
  if (field === undefined || from + by < 0 || from + by >= report.fields.length) return report;
  const rest = report.fields.filter((each) => each !== field);
  return { ...report, fields: [...rest.slice(0, from + by), field, ...rest.slice(from + by)] };
}

/** A further column of the rows, shown as the last field. */
export function withColumn(report: Report, column: QueryColumn, design: AppDesign): Report {
  if (!hasOwnColumns(report.source)) return report;
  const named = { ...column, name: freeName(column.name, report.source.columns) };
  const wider: Report = { ...report, source: { ...report.source, columns: [...report.source.columns, named] } };
  return { ...wider, fields: [...wider.fields, fieldFor(column.id, kindOf(wider, design, column.id))] };
}

export const editColumn = (report: Report, id: string, part: Partial<QueryColumn>): Report =>
  !hasOwnColumns(report.source)
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
  if (!hasOwnColumns(report.source)) return report;
  const used = new Set([...report.fields, ...report.groups, ...report.order].map((field) => field.column));
  return { ...report, source: { ...report.source, columns: report.source.columns.filter((column) => used.has(column.id)) } };
}

export const withOrder = (report: Report, order: readonly QueryOrder[]): Report => pruned({ ...report, order });

/** The answers to the three questions with which a report begins. */
export interface Answers {
  readonly name: string;
  readonly source: PickedRows;
  /** Fields of the table, or columns of the query. */
  readonly shown: readonly string[];
  readonly groupBy: readonly string[];
  readonly orderBy: string;
  readonly direction: 'up' | 'down';
  readonly arrangement: Report['arrangement'];
  readonly paper: Report['paper'];
}

/** The first page that these answers give; `newId` makes the ids of its columns. */
export function reportFrom(answers: Answers, design: AppDesign, id: string, newId: (prefix: string) => string): Report {
  const asked = [...new Set([...answers.groupBy, ...answers.shown, ...(answers.orderBy === '' ? [] : [answers.orderBy])])];
  const { source, idOf } = sourceFrom(answers.source, asked, design, newId);
  const addsUp = (column: string): boolean => offersOf(answers.source, design).find((offer) => offer.id === column)?.addsUp === true;
  const fields = answers.shown
    .filter((each) => !answers.groupBy.includes(each))
    .map((each): ReportField => {
      const column = idOf(each);
      const kind = kindOf({ source }, design, column);
      return { ...fieldFor(column, kind), total: kind === 'number' && addsUp(each) ? 'sum' : null };
    });
  const groups = answers.groupBy.map((each): ReportGroup => ({ column: idOf(each), direction: 'up', startsPage: false, keepsHeading: true }));
  const order = answers.orderBy === '' ? [] : [{ column: idOf(answers.orderBy), direction: answers.direction }];
  const { name, arrangement, paper } = answers;
  return { id, name, description: '', section: '', source, fields, groups, order, arrangement, paper };
}

function sourceFrom(
  { kind, id }: PickedRows,
  asked: readonly string[],
  design: AppDesign,
  newId: (prefix: string) => string,
): { readonly source: RowSource; readonly idOf: (id: string) => string } {
  const { isGiven, source } = rowSources[kind];
  if (isGiven) return { source: source(id, []), idOf: (column) => column };
  const ids = new Map(asked.map((each) => [each, newId('c')]));
  const offers = offersOf({ kind, id }, design);
  const columns: QueryColumn[] = [];
  for (const each of asked) {
    const offer = offers.find((offered) => offered.id === each);
    if (offer === undefined) continue;
    const { name, expression, digits } = offer;
    columns.push({ id: ids.get(each) ?? '', name: freeName(name, columns), expression, summary: null, digits });
  }
  return { source: source(id, columns), idOf: (each) => ids.get(each) ?? '' };
}
