/** What is thought of a figure: how it stands to its target and in which of its ranges. */
import type { Judgement, TileOf } from '../design/dashboard.js';
import { Decimal } from '../feel/value.js';

export type Rating = 'poor' | 'fair' | 'good';

/** In which range a number lies; a bound belongs to the better side. */
export function judge(value: string, { better, fairFrom, goodFrom }: Judgement): Rating {
  const number = new Decimal(value);
  const reaches = (bound: number): boolean => (better === 'higher' ? number.gte(bound) : number.lte(bound));
  return reaches(goodFrom) ? 'good' : reaches(fairFrom) ? 'fair' : 'poor';
}

type Figure = TileOf<'figure'>;

/** Whether the target is reached; null when there is none, or nothing to hold against it. Without judgement more is better. */
export function reachesTarget(value: string | null, { target, judgement }: Pick<Figure, 'target' | 'judgement'>): boolean | null {
  if (value === null || target === null) return null;
  return judgement?.better === 'lower' ? new Decimal(value).lte(target) : new Decimal(value).gte(target);
}

/** The scale on which a figure is drawn: it holds zero, the value, the target and both bounds, with a little room. */
export function scaleOf(value: string | null, { target, judgement }: Pick<Figure, 'target' | 'judgement'>): readonly [low: number, high: number] {
  const marks = [0, Number(value ?? 0), ...(target === null ? [] : [target]), ...(judgement === null ? [] : [judgement.fairFrom, judgement.goodFrom])];
  const [low, high] = [Math.min(...marks), Math.max(...marks)];
  const room = (high - low) * 0.15;
  return high === low ? [low, low + 1] : [low < 0 ? low - room : 0, high > 0 ? high + room : 0];
}
