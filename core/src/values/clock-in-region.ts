/** How the clock of a region is written, over Intl. */

/** @param tag a BCP 47 tag with Latin figures */
export function clockOf(tag: string) {
  const format = new Intl.DateTimeFormat(tag, { hour: 'numeric', minute: '2-digit', timeZone: 'UTC' });
  const partsAt = (hour: number) => format.formatToParts(Date.UTC(1970, 0, 1, hour, 5));
  const halves = [9, 21].map((hour) => partsAt(hour).find(({ type }) => type === 'dayPeriod')?.value ?? '');
  // Only halves of the day that can be typed: others are written with 24 hours.
  const hasHalves = halves.every((half) => /^[ap]\.?\s?m\.?$/iu.test(half));
  const parts = partsAt(21);
  const between = parts[parts.findIndex(({ type }) => type === 'hour') + 1]?.value.trim() ?? ':';
  const mark = between === '.' ? '.' : ':';
  return {
    /** "9:30 pm" or "21:30" for "21:30:00", with the seconds where there are some. What is no time stays as it is. */
    print: (iso: string): string => {
      const [, h, minute = '', second = ''] = /^(\d\d):(\d\d):(\d\d)$/u.exec(iso) ?? [];
      if (h === undefined) return iso;
      const hour = Number(h);
      const time = [hasHalves ? String(hour % 12 === 0 ? 12 : hour % 12) : h, minute, ...(second === '00' ? [] : [second])].join(mark);
      return hasHalves ? `${time} ${halves[hour < 12 ? 0 : 1] ?? ''}` : time;
    },
  };
}
