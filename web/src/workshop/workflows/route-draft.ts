/** A route while it is being drawn: every edit gives a new one. */
import { statusesOf, withKind, type AppDesign, type Choice, type DesignChange, type Move, type Route, type Status } from '@bibliona/core';

/** What of the route is chosen, and shown in the details. */
export type Spot = { readonly kind: 'route' } | { readonly kind: 'status' | 'move'; readonly id: string };

export const editMove = (route: Route, id: string, part: Partial<Move>): Route => ({
  ...route,
  moves: route.moves.map((move) => (move.id === id ? { ...move, ...part } : move)),
});
export const withoutMove = (route: Route, id: string): Route => ({ ...route, moves: route.moves.filter((move) => move.id !== id) });

/** A name that no other move from the status has yet. */
function freeName(route: Route, from: string, name: string): string {
  const taken = new Set(route.moves.filter((move) => move.from === from).map((move) => move.name.toLowerCase()));
  let free = name.slice(0, 56);
  for (let n = 2; taken.has(free.toLowerCase()); n += 1) free = `${name.slice(0, 56)} ${n}`;
  return free;
}

/** A move between two statuses, for those who make others from there; it is named by where it leads until it is called otherwise. */
export function withMove(route: Route, statuses: readonly Status[], id: string, from: string, to: string, roles: readonly string[]): Route {
  const like = route.moves.find((move) => move.from === from)?.roles ?? roles;
  const name = freeName(route, from, `To ${statuses.find((status) => status.id === to)?.name ?? ''}`);
  return { ...route, moves: [...route.moves, { id, name, from, to, roles: like, guard: '', duty: 'should' }] };
}

/** Words between commas or on lines of their own as choices; each is named once. */
export function choicesFrom(words: string): readonly Choice[] {
  const labels = words
    .split(/[,\n]/u)
    .map((each) => each.trim().replace(/\s+/gu, ' '))
    .filter((each) => each !== '');
  const unique = labels.filter((label, i) => labels.findIndex((each) => each.toLowerCase() === label.toLowerCase()) === i);
  const ids = new Set<string>();
  return unique.map((label) => {
    const plain = label
      .normalize('NFD')
      .toLowerCase()
      .replace(/[^a-z0-9]+/gu, '_')
      .replace(/^_+|_+$/gu, '')
      .slice(0, 50);
    const base = plain === '' ? 'status' : plain;
    let id = base;
    for (let n = 2; ids.has(id); n += 1) id = `${base}_${n}`;
    ids.add(id);
    return { id, label };
  });
}

/** The answers with which a route begins. */
export interface Answers {
  readonly name: string;
  readonly table: string;
  /** Empty: a new field, with the words as its choices. */
  readonly field: string;
  readonly fieldName: string;
  readonly words: string;
}

/** The changes that make a first route: one status after the other, from the first to the last. */
export function changesFrom(
  answers: Answers,
  design: AppDesign,
  newId: (prefix: string) => string,
): { readonly id: string; readonly changes: readonly DesignChange[] } {
  const id = newId('way');
  const field = answers.field === '' ? newId('f') : answers.field;
  const known = design.tables.find((table) => table.id === answers.table)?.fields.find((each) => each.id === answers.field);
  const choices = known?.kind === 'choice' ? known.choices : choicesFrom(answers.words);
  const roles = design.roles.slice(0, 1).map((role) => role.id);
  const [first] = choices;
  const last = choices.at(-1);
  let route: Route = { id, name: answers.name, description: '', section: '', table: answers.table, field, statuses: [], moves: [] };
  if (first !== undefined) route = withKind(route, first.id, 'start');
  if (last !== undefined && last !== first) route = withKind(route, last.id, 'done');
  const statuses = choices.map((choice): Status => ({ id: choice.id, name: choice.label, kind: 'work' }));
  choices.slice(1).forEach((choice, i) => (route = withMove(route, statuses, newId('mo'), choices[i]?.id ?? '', choice.id, roles)));
  const added: DesignChange = {
    kind: 'add_field',
    table: answers.table,
    field: { kind: 'choice', id: field, name: answers.fieldName, description: '', required: false, unique: false, default: null, choices: [...choices] },
  };
  return { id, changes: [...(answers.field === '' ? [added] : []), { kind: 'put', part: 'route', value: route }] };
}

export const whoMoves = (design: AppDesign, move: Move): string =>
  move.roles.length === 0 ? 'nobody yet' : move.roles.map((id) => design.roles.find((role) => role.id === id)?.name ?? '').join(', ');

export const statusName = (design: AppDesign, route: Route, id: string): string => statusesOf(design, route).find((status) => status.id === id)?.name ?? '';
