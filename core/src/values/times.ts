/** Times of day and lengths of time as people write them. */

const clock = /^(\d{1,2})(?:(?:[:.h]| h ?)(\d\d)?(?:[:.](\d\d))?)?\s*(?:([ap])\.?\s?m\.?)?$/iu;
const digits = /^(\d{1,2})(\d\d)\s*(?:([ap])\.?\s?m\.?)?$/iu;

/** A time of day as `HH:MM:SS`: from 9, 9:30, 9.30, 0930, 21h05, 9:30 pm, 09:30:15. Null: it is none. */
export function parseTime(typed: string): string | null {
  const text = typed.trim();
  const [, h, m, s, half] = clock.exec(text) ?? (([all, hour, minute, end]) => [all, hour, minute, undefined, end])(digits.exec(text) ?? []);
  if (h === undefined) return null;
  const [hour, minute, second] = [Number(h), Number(m ?? 0), Number(s ?? 0)];
  if (minute > 59 || second > 59) return null;
  if (half !== undefined && (hour < 1 || hour > 12)) return null;
  const whole = half === undefined ? hour : (hour % 12) + (half.toLowerCase() === 'p' ? 12 : 0);
  return whole > 23 ? null : [whole, minute, second].map((part) => String(part).padStart(2, '0')).join(':');
}

const unit = { d: 86_400, h: 3600, min: 60, s: 1 } as const;
const units: Readonly<Record<string, keyof typeof unit>> = {
  d: 'd',
  day: 'd',
  days: 'd',
  h: 'h',
  hr: 'h',
  hrs: 'h',
  hour: 'h',
  hours: 'h',
  m: 'min',
  min: 'min',
  mins: 'min',
  minute: 'min',
  minutes: 'min',
  s: 's',
  sec: 's',
  secs: 's',
  second: 's',
  seconds: 's',
};
const longest = 316_224_000_000;

/** A length of time in whole seconds: from 1:30 (hours and minutes), 1:30:15, 90 min, 1 h 30, 2 d, 1.5 h. Null: it is none. */
export function parseDuration(typed: string): number | null {
  const text = typed.trim().replace(/^−/u, '-');
  const sign = text.startsWith('-') ? -1 : 1;
  const rest = text.replace(/^-\s*/u, '');
  const whole = (seconds: number): number | null => (Number.isInteger(seconds) && seconds <= longest ? sign * seconds || 0 : null);
  const colons = /^(\d{1,8}):([0-5]\d)(?::([0-5]\d))?$/u.exec(rest);
  if (colons !== null) return whole(Number(colons[1]) * 3600 + Number(colons[2]) * 60 + Number(colons[3] ?? 0));
  const short = /^(\d{1,8})\s*h\s*([0-5]?\d)$/iu.exec(rest);
  if (short !== null) return whole(Number(short[1]) * 3600 + Number(short[2]) * 60);
  const parts = [...rest.matchAll(/(\d{1,12})(?:[.,](\d{1,6}))?\s*([a-z]+)\s*/giu)];
  if (parts.length === 0 || parts.map(([all]) => all).join('') !== rest) return null;
  let seconds = 0;
  let last = Infinity;
  for (const [, before = '', after = '', name = ''] of parts) {
    const size = unit[units[name.toLowerCase()] ?? 's'];
    // Each unit once, the larger ones first.
    if (units[name.toLowerCase()] === undefined || size >= last) return null;
    last = size;
    const [numerator, denominator] = [Number(before + after) * size, 10 ** after.length];
    if (numerator % denominator !== 0) return null;
    seconds += numerator / denominator;
  }
  return whole(seconds);
}

/** "2 d 4 h 30 min": the same in all regions. */
export function printDuration(seconds: number): string {
  const size = Math.abs(seconds);
  const parts = [
    [Math.floor(size / unit.d), 'd'],
    [Math.floor(size / unit.h) % 24, 'h'],
    [Math.floor(size / unit.min) % 60, 'min'],
    [size % 60, 's'],
  ] as const;
  const text = parts.flatMap(([count, name]) => (count === 0 ? [] : [`${count} ${name}`])).join(' ');
  return `${seconds < 0 ? '−' : ''}${text === '' ? '0 min' : text}`;
}
