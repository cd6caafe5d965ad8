/** Expressions of which the engines once gave different answers. Each stays, so that none comes back. */
export const disagreements: readonly string[] = [
  // A quotient that never ends: 34 digits, and no more than were asked for.
  '1 / 3',
  // The zeroth element was the last one in memory.
  '[1, 2, 3][0]',
  // $0 is the whole match.
  'replace("abc", "[a-b]", "<$0>")',
  // An aggregate of nothing but the outer row belongs to the subquery all the same.
  'all(for v in [1, 2] return today() = today())',
  // The last day of the calendar.
  'date and time(date("9999-12-31"), time("23:59:59"))',
  // An empty list beside numbers is one of numbers, a null a truth.
  'list contains([], 3)',
  'if [][1] then 1 else 2',
  'sum([])',
  '-max([])',
  'list contains((for v in [1, 2] return [][1]), 3)',
  // A constant that the statement comes to do without.
  'time("00:00:00").second',
];
