/** The ways in which records, or the rows of a query, are shown. */
import { z } from 'zod';
import { Id } from '../shapes/shapes.js';

/** A list is arranged by fields, a query by its columns. */
export const Arrangement = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('grid') }).readonly(),
  z.object({ kind: z.literal('cards') }).readonly(),
  /** A column for each value of a field. */
  z.object({ kind: z.literal('board'), by: Id }).readonly(),
  /** On the days of a month. */
  z.object({ kind: z.literal('calendar'), day: Id }).readonly(),
  /** As bars over time, from one day to another; without `to` of a day each. With a lane of its own for each value of `lane`. */
  z.object({ kind: z.literal('timeline'), from: Id, to: Id.optional(), lane: Id.optional() }).readonly(),
  /** As points where they are. */
  z.object({ kind: z.literal('map'), place: Id }).readonly(),
  /** As a chart of how many have each value of `by`, or of what they sum up to; below it by groups. Of dates by their months. */
  z.object({ kind: z.literal('chart'), by: Id, sum: Id.optional() }).readonly(),
]);
export type Arrangement = z.infer<typeof Arrangement>;
export type ArrangementKind = Arrangement['kind'];

/** The field without which an arrangement is none. */
export function fieldOfArrangement(arrangement: Arrangement): string | null {
  switch (arrangement.kind) {
    case 'grid':
    case 'cards':
      return null;
    case 'board':
    case 'chart':
      return arrangement.by;
    case 'calendar':
      return arrangement.day;
    case 'timeline':
      return arrangement.from;
    case 'map':
      return arrangement.place;
    default:
      return arrangement satisfies never;
  }
}
/** The fields that it shows besides, and can do without. */
export function furtherFields(arrangement: Arrangement): readonly string[] {
  const ids = arrangement.kind === 'timeline' ? [arrangement.to, arrangement.lane] : arrangement.kind === 'chart' ? [arrangement.sum] : [];
  return ids.filter((id) => id !== undefined);
}

/** What is left of an arrangement without the fields that go; a grid where it needs one of them. */
export function arrangementLeft(arrangement: Arrangement, stays: (id: string) => boolean): Arrangement {
  const needed = fieldOfArrangement(arrangement);
  if (needed !== null && !stays(needed)) return { kind: 'grid' };
  if (furtherFields(arrangement).every(stays)) return arrangement;
  if (arrangement.kind === 'chart') return { kind: 'chart', by: arrangement.by };
  if (arrangement.kind !== 'timeline') return arrangement;
  const { from, to, lane } = arrangement;
  return { kind: 'timeline', from, ...(to !== undefined && stays(to) ? { to } : {}), ...(lane !== undefined && stays(lane) ? { lane } : {}) };
}
