/** A saved query as a question: its expressions checked, its condition in steps, its columns with their types. */
import { countShown, type TypedNumber } from '../fields/computed.js';
import { kindOf } from '../fields/kinds.js';
import type { AppDesign } from '../design/design.js';
import type { QueryOrder, SavedQuery, Summary } from '../design/saved-query.js';
import { wantedColumn } from '../parts/wanted.js';
import { check } from '../expression/check.js';
import { inWords } from '../expression/in-words.js';
import type { Node } from '../expression/node.js';
import { wants } from '../feel/wants.js';
import type { Locale } from '../values/locale.js';
import { types, type Type } from '../feel/types.js';
import { everything, type Condition, type Question } from './query.js';

export interface AskedColumn {
  readonly id: string;
  /** Null: the records themselves, which are counted. */
  readonly node: Node | null;
  readonly summary: Summary | null;
}

/** What a saved query asks, ready to be restricted and compiled. */
export interface AskedQuery extends Question {
  readonly columns: readonly AskedColumn[];
  readonly order: readonly QueryOrder[];
  readonly limit: number | null;
  /** The parts of the condition that must all hold, in the order in which they stand. */
  readonly steps: readonly Node[];
}

/** Something that a saved query says and that cannot be read. */
export interface QueryProblem {
  /** The column it is in; null: the condition. */
  readonly column: string | null;
  readonly message: string;
}

export type ReadQuery = { readonly ok: true; readonly asked: AskedQuery } | { readonly ok: false; readonly problems: readonly QueryProblem[] };

export const isSummedUp = (query: { readonly columns: readonly { readonly summary: Summary | null }[] }): boolean =>
  query.columns.some((column) => column.summary !== null);

/** The parts of a condition that must all hold. */
const conjuncts = (node: Node): readonly Node[] => (node.kind === 'and' ? node.of.flatMap(conjuncts) : [node]);

/** Reads a saved query against the design; every part that cannot be read is a problem of its own. */
export function readQuery(query: SavedQuery, design: AppDesign): ReadQuery {
  const scope = { design, table: query.table };
  const problems: QueryProblem[] = [];
  const condition = query.condition.trim() === '' ? null : check(query.condition, scope, wants.truth);
  if (condition?.ok === false) problems.push({ column: null, message: condition.problems[0]?.message ?? '' });
  const columns = query.columns.map((column): AskedColumn => {
    const { id, summary } = column;
    if (column.expression.trim() === '') {
      if (summary !== 'count') problems.push({ column: id, message: 'Choose what this column shows.' });
      return { id, node: null, summary };
    }
    const checked = check(column.expression, scope, wantedColumn(summary));
    if (!checked.ok) problems.push({ column: id, message: checked.problems[0]?.message ?? '' });
    return { id, node: checked.ok ? checked.node : null, summary };
  });
  if (problems.length > 0) return { ok: false, problems };
  const steps = condition?.ok === true ? conjuncts(condition.node) : [];
  const where: Condition = steps.length === 0 ? everything : { kind: 'all', of: steps.map((step) => ({ kind: 'meets', condition: step })) };
  return { ok: true, asked: { table: query.table, where, columns, order: query.order, limit: query.limit, steps } };
}

/** The type of what a column shows: what is counted, summarised or averaged is a number. */
export function shownType(column: AskedColumn): Type {
  if (column.node === null || column.summary === 'count' || column.summary === 'sum' || column.summary === 'average') return types.number;
  return column.node.type;
}

/** Whether the values of a column are drawings of a field. */
export const isDrawn = ({ node, summary }: AskedColumn): boolean => summary === null && node?.kind === 'field' && kindOf(node.field).drawn !== undefined;

/** Whether values of a type can be said in one value that way. */
export function canTotal(type: { readonly kind: string }, summary: Summary): boolean {
  if (summary === 'count') return true;
  return type.kind === 'number' || (type.kind === 'date' && (summary === 'smallest' || summary === 'largest'));
}

/** Whether values are amounts once they are summed up that way: the smallest of years is still a year. */
export const givesAmount = (summary: Summary | null): boolean => summary === 'count' || summary === 'sum' || summary === 'average';

/** How what a column is summed up to is shown. */
export const totalShown = (column: TypedNumber, summary: Summary): TypedNumber =>
  summary === 'count' ? countShown : givesAmount(summary) ? { ...column, isAmount: true } : column;

/** One step of the ledger: what was asked of the rows, and how many are left after it. */
export interface LedgerStep {
  readonly kind: 'grain' | 'condition' | 'groups' | 'limit';
  /** For a condition: in plain words. */
  readonly condition: string;
  readonly left: number;
}

/** The ledger from the counts that `compileLedger` gives: after each part of the condition, and then of the result. */
export function ledgerOf(query: SavedQuery, asked: AskedQuery, design: AppDesign, counts: readonly number[], locale: Locale): readonly LedgerStep[] {
  const at = (index: number): number => counts[index] ?? 0;
  const steps: LedgerStep[] = [{ kind: 'grain', condition: '', left: at(0) }];
  asked.steps.forEach((node, i) => steps.push({ kind: 'condition', condition: inWords(node, design, locale), left: at(i + 1) }));
  const result = at(asked.steps.length + 1);
  if (isSummedUp(query)) steps.push({ kind: 'groups', condition: '', left: result });
  if (query.limit !== null && query.limit < result) steps.push({ kind: 'limit', condition: '', left: query.limit });
  return steps;
}
