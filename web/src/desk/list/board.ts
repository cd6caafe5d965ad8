/** Boards: which columns a board has, and what puts a record into another column. */
import { written, type Field, type GroupAnswer, type RecordAnswer, type Route, type Value, type Write } from '@bibliona/core';

export interface BoardColumn {
  /** As the list is narrowed to it. */
  readonly value: Value;
  /** As a record holds it. */
  readonly held: Value;
  readonly count: number;
  readonly sums: GroupAnswer['sums'];
}

/** A column for each choice, whether a record has it or not; of other fields for each value that some record has. */
export function boardColumns(field: Field, groups: readonly GroupAnswer[], sums: number): readonly BoardColumn[] {
  const none = Array.from({ length: sums }, () => null);
  const of = (value: Value, held: Value): BoardColumn => {
    const group = groups.find((each) => written(each.values[0] ?? null) === written(value));
    return { value, held, count: group?.count ?? 0, sums: group?.sums ?? none };
  };
  const empty = groups.filter((group) => (group.values[0] ?? null) === null).map(() => of(null, null));
  if (field.kind === 'choice') {
    const offered = field.choices.filter((choice) => choice.retired !== true || groups.some((group) => group.values[0] === choice.label));
    return [...offered.map((choice) => of(choice.label, choice.id)), ...empty];
  }
  const values = groups.flatMap((group) => (group.values[0] == null ? [] : [group.values[0]]));
  return [...values.map((value) => of(value, value)), ...empty];
}

export type Landing = { readonly ok: true; readonly write: Write } | { readonly ok: false; readonly why: string };

/** What is to be saved when a record is put into a column: a move of its route, where its status is what the board shows. */
export function landing(table: string, field: Field, route: Route | undefined, record: RecordAnswer, to: BoardColumn): Landing {
  const at = { table, id: record.id, rev: record.rev };
  if (route?.field !== field.id) {
    if (field.required && to.held === null) return { ok: false, why: `${field.name} is required.` };
    return { ok: true, write: { kind: 'change', ...at, values: { [field.id]: written(to.held) } } };
  }
  const from = record.values[field.id] ?? null;
  const move = route.moves.find((each) => each.from === from && each.to === to.held);
  const nameOf = (id: Value): string => (field.kind === 'choice' ? field.choices.find((choice) => choice.id === id)?.label : undefined) ?? 'empty';
  return move === undefined
    ? { ok: false, why: `No move leads from ${nameOf(from)} to ${nameOf(to.held)}.` }
    : { ok: true, write: { kind: 'move', ...at, move: move.id } };
}

/** Whether a record is in a column. */
export const isIn = (column: BoardColumn, record: RecordAnswer, field: string): boolean => written(record.values[field] ?? null) === written(column.held);
