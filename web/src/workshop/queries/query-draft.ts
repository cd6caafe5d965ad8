/** A query while it is being written: every edit gives a new one. */
import { check, inWords, isSummedUp, pickedTypes, wantedColumn, wants, type AppDesign, type QueryColumn, type SavedQuery, type Type } from '@bibliona/core';
import { locale } from '../../state/locale.js';

/** What of the sentence is selected, and shown in the details. */
export type Spot =
  | { readonly kind: 'query' }
  | { readonly kind: 'condition' }
  | { readonly kind: 'order' }
  | { readonly kind: 'new column' }
  | { readonly kind: 'column'; readonly id: string };

/** A name that no other column has yet. */
export function freeName(name: string, columns: readonly QueryColumn[]): string {
  const taken = new Set(columns.map((column) => column.name.toLowerCase()));
  let free = name.slice(0, 56);
  for (let n = 2; taken.has(free.toLowerCase()); n += 1) free = `${name.slice(0, 56)} ${n}`;
  return free;
}

export const withColumn = (query: SavedQuery, column: Omit<QueryColumn, 'name'> & { readonly name: string }): SavedQuery => ({
  ...query,
  columns: [...query.columns, { ...column, name: freeName(column.name, query.columns) }],
});

export const editColumn = (query: SavedQuery, id: string, part: Partial<QueryColumn>): SavedQuery => ({
  ...query,
  columns: query.columns.map((column) => (column.id === id ? { ...column, ...part } : column)),
});

/** None chosen: the query itself decides. */
export const filteredBy = ({ quickFilters: _, ...query }: SavedQuery, chosen: readonly string[]): SavedQuery =>
  chosen.length === 0 ? query : { ...query, quickFilters: chosen };

export const withoutColumn = (query: SavedQuery, id: string): SavedQuery =>
  filteredBy(
    {
      ...query,
      columns: query.columns.filter((column) => column.id !== id),
      order: query.order.filter((each) => each.column !== id),
    },
    (query.quickFilters ?? []).filter((each) => each !== id),
  );

/** The columns by whose values rows can be picked. */
export const pickableColumns = (query: SavedQuery, design: AppDesign): readonly QueryColumn[] =>
  query.columns.filter((column) => pickedTypes.has(columnType(query, column, design)?.kind ?? ''));

/** The column one place further to the left (-1) or right (1), where there is one. */
export function movedColumn(query: SavedQuery, id: string, by: -1 | 1): SavedQuery {
  const from = query.columns.findIndex((column) => column.id === id);
  const column = query.columns[from];
  if (column === undefined || from + by < 0 || from + by >= query.columns.length) return query;
  const rest = query.columns.filter((each) => each.id !== id);
  return { ...query, columns: [...rest.slice(0, from + by), column, ...rest.slice(from + by)] };
}

/** The order by this column first; by it already: the other way round, and then no longer. */
export function orderedBy(query: SavedQuery, id: string): SavedQuery {
  const [first] = query.order;
  const rest = query.order.filter((each) => each.column !== id);
  if (first?.column !== id) return { ...query, order: [{ column: id, direction: 'down' }, ...rest] };
  return { ...query, order: first.direction === 'down' ? [{ column: id, direction: 'up' }, ...rest] : rest };
}

/** What a column shows, or null while it cannot be read. */
export function columnType(query: SavedQuery, column: QueryColumn, design: AppDesign): Type | null {
  if (column.summary !== null && ['count', 'sum', 'average'].includes(column.summary)) return { kind: 'number' };
  const checked = check(column.expression, { design, table: query.table }, wantedColumn(column.summary));
  return checked.ok ? checked.node.type : null;
}

/** What comes first in an order, in the words of the type. */
export function directionWords(type: Type | null, direction: 'up' | 'down'): string {
  const [up, down] =
    type?.kind === 'number'
      ? ['smallest first', 'largest first']
      : type?.kind === 'date' || type?.kind === 'date and time'
        ? ['earliest first', 'latest first']
        : type?.kind === 'choice'
          ? ['first choice first', 'last choice first']
          : ['from A to Z', 'from Z to A'];
  return direction === 'up' ? up : down;
}

/** The condition as the sentence says it. */
export function conditionWords({ table, condition }: Pick<SavedQuery, 'table' | 'condition'>, design: AppDesign): string {
  const checked = check(condition, { design, table }, wants.truth);
  return checked.ok ? inWords(checked.node, design, locale()) : condition;
}

export const groupsOf = (query: SavedQuery): readonly QueryColumn[] => (isSummedUp(query) ? query.columns.filter((column) => column.summary === null) : []);
export const valuesOf = (query: SavedQuery): readonly QueryColumn[] =>
  isSummedUp(query) ? query.columns.filter((column) => column.summary !== null) : query.columns;
