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

/** The seven days of the week of a day. `firstDay`: 1 is Monday, 7 is Sunday. */
export function weekOf(day: string, firstDay: number): readonly string[] {
  const weekday = utc(day).getUTCDay() || 7;
  const first = later(day, -((weekday - firstDay + 7) % 7));
  return Array.from({ length: 7 }, (_, i) => later(first, i));
}

/** The weeks that the month of a day touches. */
export function weeksOf(day: string, firstDay: number): readonly (readonly string[])[] {
  const month = monthOf(day);
  const weeks: (readonly string[])[] = [];
  for (let week = weekOf(month, firstDay); weeks.length === 0 || monthOf(week[0] ?? '') === month; week = weekOf(later(week[0] ?? '', 7), firstDay))
    weeks.push(week);
  return weeks;
}

/** The day with which a week begins in a region, from what browsers know of it; else Monday. */
export function firstDayIn(region: string): number {
  const found = new Intl.Locale(region) as Intl.Locale & { getWeekInfo?: () => { firstDay: number }; weekInfo?: { firstDay: number } };
  return found.getWeekInfo?.().firstDay ?? found.weekInfo?.firstDay ?? 1;
}
