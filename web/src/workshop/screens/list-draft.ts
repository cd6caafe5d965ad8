/** A list while it is being designed, in words and as the question that its proof asks. */
import {
  canNarrow,
  kindOf,
  linksOf,
  membersOf,
  plainList,
  shownExpression,
  typeOfField,
  type AppDesign,
  type Arrangement,
  type Field,
  type List,
  type SavedQuery,
  type Table,
} from '@bibliona/core';
import { arrangementWords } from '../parts/arrangements.js';
import { directionWords } from '../queries/query-draft.js';

/** The part of the sentence that is worked on. */
export type Spot = 'list' | 'columns' | 'condition' | 'order' | 'groups' | 'sums' | 'filters' | 'tones' | 'arrangement';

export const narrowingFields = (table: Table): readonly Field[] => table.fields.filter(canNarrow);

const names = (table: Table, design: AppDesign, ids: readonly string[]): readonly string[] => {
  const links = linksOf(design, table.id);
  return ids.flatMap((id) => table.fields.find((field) => field.id === id)?.name ?? links.find((link) => link.id === id)?.childrenName ?? []);
};
const listed = (words: readonly string[], none: string): string => (words.length === 0 ? none : words.join(', '));

/** What a list says of itself, part by part. */
export function wordsOfList(list: List, table: Table, design: AppDesign): Readonly<Record<Exclude<Spot, 'list' | 'condition'>, string>> {
  const order = list.order.flatMap(({ field: id, direction }) => {
    const field = table.fields.find((each) => each.id === id);
    return field === undefined ? [] : [`${field.name} ${directionWords(typeOfField(design, table.id, field), direction)}`];
  });
  return {
    columns: listed(names(table, design, list.columns), 'no columns'),
    order: order.length === 0 ? 'the first added first' : order.join(', then '),
    groups: listed(names(table, design, list.groupBy), 'nothing'),
    sums: listed(names(table, design, list.sums), 'nothing'),
    filters: listed(names(table, design, list.quickFilters), 'nothing'),
    tones: listed(
      list.tones.map((tone) => tone.name),
      'no colours',
    ),
    arrangement: arrangementWords(list.arrangement, (id) => table.fields.find((field) => field.id === id)?.name),
  };
}

/** The first records that a list shows, as a question: what its proof asks. */
export function questionOfList(list: List, design: AppDesign): SavedQuery {
  const members = membersOf(design, list.table);
  const columns = list.columns.flatMap((id) => {
    const member = members.find((each) => each.kind === 'field' && each.field.id === id);
    if (member?.kind !== 'field') return [];
    const { field, name } = member;
    return [{ id, name: field.name, expression: shownExpression(field, name), summary: null, digits: kindOf(field).digits(field) }];
  });
  const order = list.order.filter((each) => columns.some((column) => column.id === each.field)).map(({ field, direction }) => ({ column: field, direction }));
  return { id: 'proof', name: 'proof', description: '', section: '', table: list.table, condition: list.condition, columns, order, limit: null };
}

/** A list that is complete before anything is chosen: the columns of the one that the table opens with. */
export const firstList = (plan: Pick<List, 'id' | 'name' | 'table'>, columns: readonly string[], arrangement: Arrangement): List => ({
  ...plainList,
  ...plan,
  roles: [],
  isDefault: false,
  columns,
  arrangement,
});
