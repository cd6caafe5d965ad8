/** A query while it is being written: every edit gives a new one. */
import {
  arrangementLeft,
  check,
  columnNeeds,
  inWords,
  isSummedUp,
  pickedTypes,
  wantedColumn,
  wants,
  type AppDesign,
  type Arrangement,
  type ArrangementKind,
  type QueryColumn,
  type SavedQuery,
  type Type,
} from '@bibliona/core';
import { locale } from '../../state/locale.js';

/** What of the sentence is selected, and shown in the details. */
export type Spot =
  | { readonly kind: 'query' }
  | { readonly kind: 'condition' }
  | { readonly kind: 'order' }
  | { readonly kind: 'arrangement' }
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

/** In a grid as long as nothing else is chosen. */
export const arrangedAs = ({ arrangement: _, ...query }: SavedQuery, arrangement: Arrangement): SavedQuery =>
  arrangement.kind === 'grid' ? query : { ...query, arrangement };

export function withoutColumn(query: SavedQuery, id: string): SavedQuery {
  const stays = (column: string): boolean => column !== id;
  const left: SavedQuery = {
    ...query,
    columns: query.columns.filter((column) => stays(column.id)),
    order: query.order.filter((each) => stays(each.column)),
  };
  return arrangedAs(filteredBy(left, (query.quickFilters ?? []).filter(stays)), arrangementLeft(query.arrangement ?? { kind: 'grid' }, stays));
}

/** The columns by which rows can be arranged, by what each arrangement needs. */
export function fittingColumns(query: SavedQuery, design: AppDesign): (kind: ArrangementKind, key: string) => readonly QueryColumn[] {
  const typed = query.columns.map((column) => ({ column, type: columnType(query, column, design) }));
  // Of texts there is often another one in each row.
  typed.sort((a, b) => Number(a.type?.kind === 'string') - Number(b.type?.kind === 'string'));
  return (kind, key) => {
    const needs: Readonly<Record<string, ReadonlySet<string>>> = columnNeeds[kind];
    return typed.flatMap(({ column, type }) => {
      const isIt =
        type !== null &&
        needs[key]?.has(type.kind) === true &&
        // Only what can be added is drawn as a sum, and only what is a place is on the map.
        (key !== 'sum' || column.summary === null || column.summary === 'count' || column.summary === 'sum') &&
        (key !== 'place' || ('parts' in type && type.parts?.['latitude'] !== undefined));
      return isIt ? [column] : [];
    });
  };
}

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
