import { readDay, readTime } from '../feel/calendar.js';
import { momentOf } from '../feel/moments.js';
import { localeOf } from '../values/locale.js';
import { defaultRegion } from '../values/regions.js';

/**
 * What the clocks of a zone show at an instant, as `2026-09-14 10:30:00`; null where they show it twice, as in the night when
 * summer time ends, and the instant could not be told from it again.
 */
export function wallClock(zone: string): (instant: string) => string | null {
  const locale = localeOf(defaultRegion, zone);
  return (instant) => {
    const ms = Date.parse(instant);
    if (Number.isNaN(ms)) return null;
    const wall = locale.wall(ms);
    const [day, time] = [readDay(wall.slice(0, 10)), readTime(wall.slice(11))];
    return day !== null && time !== null && momentOf(day, time, zone)?.ms === ms ? wall : null;
  };
}
