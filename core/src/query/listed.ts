/** Lists as questions: which records a list shows, in which order, and how they group. */
import type { AppDesign, Field, Table } from '../design/design.js';
import { fieldOf, tableOf } from '../design/read.js';
import type { List, Sort } from '../design/list.js';
import { check } from '../expression/check.js';
import type { Node } from '../expression/node.js';
import { wants } from '../feel/wants.js';
import type { Value } from '../fields/value.js';
import { daysNode, narrowingNode, valueNode } from '../parts/narrowing.js';
import type { Condition, Narrowing, Query } from './query.js';
import type { AskedColumn, AskedQuery } from './saved.js';

export interface Picked {
  readonly search: string;
  /** Another order than that of the list. */
  readonly sort?: string | undefined;
  readonly direction: 'up' | 'down';
  readonly narrowed?: readonly Narrowing[] | undefined;
}

/** Something asked of a list that its table does not have. */
export class NotInList extends Error {
  constructor(readonly field: string) {
    super(`The list cannot be sorted, grouped or narrowed by "${field}"`);
  }
}

function conditionNode(design: AppDesign, table: string, text: string): Node | null {
  const checked = text === '' ? null : check(text, { design, table }, wants.truth);
  return checked?.ok === true ? checked.node : null;
}

/**
 * The records of a list, as far as it was searched and narrowed, in the order of the list or in that asked for.
 * @throws NotInList
 */
export function picked(design: AppDesign, list: List, asked: Picked): Pick<Query, 'where' | 'sort' | 'then'> {
  const table = tableOf(design, list.table);
  if (asked.sort !== undefined && !table.fields.some((field) => field.id === asked.sort)) throw new NotInList(asked.sort);
  const condition = conditionNode(design, list.table, list.condition);
  const of: Condition[] = [
    ...(condition === null ? [] : [{ kind: 'meets', condition } as const]),
    ...(asked.narrowed ?? []).map((each) => narrowed(design, list.table, each)),
    ...(asked.search.trim() === '' ? [] : [{ kind: 'search', text: asked.search } as const]),
  ];
  const [first, ...then]: readonly Sort[] = asked.sort === undefined ? list.order : [{ field: asked.sort, direction: asked.direction }];
  return { where: { kind: 'all', of }, sort: first ?? null, then };
}

function narrowed(design: AppDesign, table: string, narrowing: Narrowing): Condition {
  const node = narrowingNode(design, table, narrowing.field);
  if (node === null) throw new NotInList(narrowing.field);
  if ('values' in narrowing) {
    const valueOf = (value: string | number | boolean | null): readonly Value[] => {
      if (node.type.kind !== 'record' || typeof value !== 'number') return [value];
      // No record has a number that is no whole one.
      return Number.isSafeInteger(value) ? [{ id: value, caption: '' }] : [];
    };
    return { kind: 'any', of: narrowing.values.flatMap(valueOf).map((value): Condition => ({ kind: 'gives', node, value })) };
  }
  const days = daysNode(design, table, narrowing.field, narrowing);
  if (days === null) throw new NotInList(narrowing.field);
  return { kind: 'meets', condition: days };
}

/** Records of a list with some of their fields, for paper. Fields that expressions can't read are left out. */
export function onPaper(design: AppDesign, { where, sort, then }: Pick<Query, 'where' | 'sort' | 'then'>, table: Table, fields: readonly Field[]): AskedQuery {
  const columnOf = (field: Field, id: string): readonly AskedColumn[] => {
    const node = valueNode(design, table.id, field.id);
    return node === null ? [] : [{ id, node, summary: null }];
  };
  const orders = [...(sort === null ? [] : [sort]), ...then].flatMap(({ field: id, direction }, i) =>
    columnOf(fieldOf(table, id), `order ${i}`).map((column) => ({ column, direction })),
  );
  return {
    table: table.id,
    where,
    columns: [...fields.flatMap((field) => columnOf(field, field.id)), ...orders.map((order) => order.column)],
    order: orders.map(({ column, direction }) => ({ column: column.id, direction })),
    limit: null,
    steps: [],
  };
}

/**
 * How many records of a list have which values of some fields, and their sums: one row per combination, `most` at most.
 * @param order by the values themselves, or the most frequent first
 * @throws NotInList
 */
export function grouped(
  design: AppDesign,
  list: List,
  where: Condition,
  by: readonly string[],
  sums: readonly string[],
  order: 'values' | 'frequent',
): AskedQuery {
  const columns = by.map((field): AskedColumn => {
    const node = narrowingNode(design, list.table, field);
    if (node === null) throw new NotInList(field);
    return { id: field, node, summary: null };
  });
  const added = sums.map((field): AskedColumn => {
    const node = valueNode(design, list.table, field);
    if (node?.type.kind !== 'number') throw new NotInList(field);
    return { id: `sum of ${field}`, node, summary: 'sum' };
  });
  const count: AskedColumn = { id: 'count', node: null, summary: 'count' };
  const isDays = order === 'frequent' && columns[0]?.node?.type.kind === 'date';
  return {
    table: list.table,
    where,
    columns: [...columns, count, ...added],
    order:
      order === 'values'
        ? by.map((column) => ({ column, direction: 'up' }))
        : isDays
          ? by.map((column) => ({ column, direction: 'down' }))
          : [{ column: 'count', direction: 'down' }],
    limit: null,
    steps: [],
  };
}
