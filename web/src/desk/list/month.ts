/** A month as weeks of seven days. Days are texts of the form 2026-09-14. */

const iso = (date: Date): string => date.toISOString().slice(0, 10);
const utc = (day: string): Date => new Date(`${day}T00:00:00Z`);
export function later(day: string, days: number): string {
  const date = utc(day);
  date.setUTCDate(date.getUTCDate() + days);
  return iso(date);
}
export const monthOf = (day: string): string => `${day.slice(0, 7)}-01`;
/** The first day of the month so many months on. */
export function monthsLater(month: string, months: number): string {
  const date = utc(monthOf(month));
  date.setUTCMonth(date.getUTCMonth() + months);
  return iso(date);
}

/** The weeks that a month touches. `firstDay`: 1 is Monday, 7 is Sunday. */
export function weeksOf(month: string, firstDay: number): readonly (readonly string[])[] {
  const first = monthOf(month);
  const weekday = utc(first).getUTCDay() || 7;
  let day = later(first, -((weekday - firstDay + 7) % 7));
  const weeks: string[][] = [];
  do {
    weeks.push(Array.from({ length: 7 }, (_, i) => later(day, i)));
    day = later(day, 7);
  } while (monthOf(day) === first);
  return weeks;
}

/** The day with which a week begins in a region, from what browsers know of it; else Monday. */
export function firstDayIn(region: string): number {
  const found = new Intl.Locale(region) as Intl.Locale & { getWeekInfo?: () => { firstDay: number }; weekInfo?: { firstDay: number } };
  return found.getWeekInfo?.().firstDay ?? found.weekInfo?.firstDay ?? 1;
}
