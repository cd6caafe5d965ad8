/** Which columns of a query its rows can be arranged by. */
import type { Arrangement, ArrangementKind } from '../design/arrangement.js';
import type { SavedQuery } from '../design/saved-query.js';
import { dayTypes, pickedTypes } from './picked-rows.js';

const sharedOrDays: ReadonlySet<string> = new Set([...pickedTypes, ...dayTypes]);

/** What each arrangement is made by, with the types that fit. */
export const columnNeeds = {
  grid: {},
  cards: {},
  board: { by: pickedTypes },
  calendar: { day: dayTypes },
  timeline: { from: dayTypes, to: dayTypes, lane: pickedTypes },
  chart: { by: sharedOrDays, sum: new Set(['number']) },
  map: { place: new Set(['string']) },
} as const satisfies Record<ArrangementKind, Readonly<Record<string, ReadonlySet<string>>>>;

/** The field or column that an arrangement has for one of its needs. */
export const madeBy = (arrangement: Arrangement, key: string): string | undefined => (arrangement as Readonly<Record<string, string | undefined>>)[key];

/** How the rows of a query are shown: as it says, or in a grid where one of its columns doesn't fit, or can't be seen. */
export function arrangementOf(query: SavedQuery, columns: readonly { readonly id: string; readonly type: string }[]): Arrangement {
  const { arrangement = { kind: 'grid' } } = query;
  const needs: Readonly<Record<string, ReadonlySet<string>>> = columnNeeds[arrangement.kind];
  const fits = Object.entries(needs).every(([key, types]) => {
    const id = madeBy(arrangement, key);
    return id === undefined || columns.some((column) => column.id === id && types.has(column.type));
  });
  return fits ? arrangement : { kind: 'grid' };
}
