/** The way of records: which statuses there are, where it begins, and which moves a person can make. */
import { fieldOf, tableOf } from '../design/read.js';
import type { AppDesign } from '../design/design.js';
import type { Choice } from '../fields/choice.js';
import type { Move, Route, StatusKind } from '../design/route.js';

export interface Status {
  readonly id: string;
  readonly name: string;
  readonly kind: StatusKind;
}

export const routeOf = (design: AppDesign, table: string): Route | undefined => design.routes.find((route) => route.table === table);

const choicesOf = (design: AppDesign, route: Route): readonly Choice[] => {
  const field = fieldOf(tableOf(design, route.table), route.field);
  return field.kind === 'choice' ? field.choices : [];
};

/** The statuses of a route, in the order of the choices. */
export const statusesOf = (design: AppDesign, route: Route): readonly Status[] =>
  choicesOf(design, route).map(({ id, label }) => ({ id, name: label, kind: route.statuses.find((status) => status.choice === id)?.kind ?? 'work' }));

/** The status with which a record begins. A design has exactly one. */
export const startOf = (route: Route): string => route.statuses.find((status) => status.kind === 'start')?.choice ?? '';

/** Whether nothing more has to happen to a record of this status. */
export const isEnd = (status: Pick<Status, 'kind'>): boolean => status.kind === 'done' || status.kind === 'ended';

/** Who asks, as far as moves are concerned. */
interface Mover {
  readonly role: string | null;
  readonly roles: readonly string[];
}

/** Whether someone can make a move at all; its guard is asked of the record besides. */
export const mayMove = (move: Move, person: Mover): boolean =>
  person.role === 'builder' || (person.role === 'member' && move.roles.some((role) => person.roles.includes(role)));
