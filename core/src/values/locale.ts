/**
 * How one person writes numbers and dates. Everything that people read or type goes through here: screens, reports, mails,
 * messages. What programs read (expressions, files, the contract) stays in its canonical form.
 */
import { clockOf } from './clock-in-region.js';
import { datesOf } from './dates-in-region.js';
import { numbersOf } from './numbers-in-region.js';
import { defaultRegion, type Region } from './regions.js';
import type { Unit } from './units.js';
import { whenUsed } from './when-used.js';

export interface Locale {
  readonly region: Region;
  /** By its name in the IANA database. */
  readonly zone: string;
  /** A number of things: "14,000". */
  readonly count: (n: number) => string;
  /**
   * Canonical digits with at least so many decimal places; none is ever cut. Amounts are grouped in thousands throughout;
   * numbers that are not amounts from five digits on, so that years stay years.
   */
  readonly number: (canonical: string, digits?: number, isAmount?: boolean) => string;
  /** A share or an amount of money with what it counts, and at least so many decimal places: "12.5%", "€1,200.00". */
  readonly amount: (canonical: string, unit: Unit, digits: number) => string;
  /** Canonical digits as an input begins to edit them: without groups. */
  readonly plainNumber: (canonical: string, digits?: number) => string;
  /** "14 Sep 2026" for "2026-09-14". */
  readonly date: (iso: string) => string;
  /** "Sep 2026" for "2026-09-14". */
  readonly month: (iso: string) => string;
  /** "18:19" for "18:19:00", with the seconds where there are some. */
  readonly clock: (iso: string) => string;
  /** The clock at a moment: "18:19". A moment is in ISO or in milliseconds since 1970 UTC. */
  readonly time: (at: string | number) => string;
  /** The day of a moment, as `date` prints it. */
  readonly day: (at: string | number) => string;
  /** Day and clock of a moment. */
  readonly moment: (at: string | number) => string;
  /** What the clocks show at a moment: "2026-09-14 18:19:00". */
  readonly wall: (at: string | number) => string;
  /** Today's date in ISO. */
  readonly today: () => string;
  /** The canonical digits of a number as this person writes it, or in another way that can be read as nothing else; else null. */
  readonly readNumber: (typed: string) => string | null;
  /** The ISO form of a date as this person writes it; a missing year is this year. Null: it is no date. */
  readonly readDate: (typed: string) => string | null;
}

const known = new Map<string, Locale>();

/**
 * The locale of a region and a time zone, by its name in the IANA database: it decides which day is today, and on which clock
 * moments are read.
 */
export function localeOf(region: Region, zone: string): Locale {
  const key = `${region} ${zone}`;
  let locale = known.get(key);
  if (locale === undefined) known.set(key, (locale = makeLocale(region, zone)));
  return locale;
}

/** For texts that are the same for everybody. */
export const standardLocale = (): Locale => localeOf(defaultRegion, 'UTC');

function makeLocale(region: Region, zone: string): Locale {
  // Latin figures and the Gregorian calendar are what fields hold and what can be typed everywhere.
  const tag = `${region}-u-nu-latn-ca-gregory`;
  // A formatter of Intl takes a millisecond to make, on a slow machine several: most screens need few of them.
  const numbers = whenUsed(() => numbersOf(tag));
  const dates = whenUsed(() => datesOf(tag));
  const clock = whenUsed(() => clockOf(tag));
  const timeIn = whenUsed(() => new Intl.DateTimeFormat(tag, { hour: '2-digit', minute: '2-digit', timeZone: zone }));
  // Swedish writes days as ISO does.
  const dayIn = whenUsed(() => new Intl.DateTimeFormat('sv-SE', { timeZone: zone }));
  const wallIn = whenUsed(() => new Intl.DateTimeFormat('sv-SE', { dateStyle: 'short', timeStyle: 'medium', timeZone: zone }));
  const day = (at: string | number): string => dates().print(dayIn().format(new Date(at)));
  const time = (at: string | number): string => timeIn().format(new Date(at));
  const today = (): string => dayIn().format(Date.now());
  return {
    region,
    zone,
    count: (n) => numbers().print(String(n), 0, true),
    number: (canonical, digits, isAmount) => numbers().print(canonical, digits, isAmount),
    amount: (canonical, unit, digits) => numbers().amount(canonical, unit, digits),
    plainNumber: (canonical, digits) => numbers().plain(canonical, digits),
    date: (iso) => dates().print(iso),
    month: (iso) => dates().month(iso),
    clock: (iso) => clock().print(iso),
    time,
    day,
    moment: (at) => `${day(at)}, ${time(at)}`,
    wall: (at) => wallIn().format(new Date(at)),
    today,
    readNumber: (typed) => numbers().read(typed),
    readDate: (typed) => dates().read(typed, today()),
  };
}
