/**
 * Names in expressions. FEEL lets names have spaces and a few marks (DMN 1.5, 10.3.1.2, rules 25 to 29), so that where a
 * name ends is only known from the names there are. Labels can hold what FEEL names can't; those marks are left out.
 */
import { normalizeContextKey } from 'lezer-feel';

// Words that mean something else at the place where a name could begin.
const reserved = new Set(
  'if then else for in return some every satisfies and or between instance of function external not true false null date time duration item partial me'.split(
    ' ',
  ),
);
// DMN 1.5, 10.3.1.2, rules 26 and 27: what a name can begin with, and what can follow besides.
const nameStarts = [
  [0x3f, 0x3f],
  [0x41, 0x5a],
  [0x5f, 0x5f],
  [0x61, 0x7a],
  [0xc0, 0xd6],
  [0xd8, 0xf6],
  [0xf8, 0x2ff],
  [0x370, 0x37d],
  [0x37f, 0x1fff],
  [0x200c, 0x200d],
  [0x2070, 0x218f],
  [0x2c00, 0x2fef],
  [0x3001, 0xd7ff],
  [0xf900, 0xfdcf],
  [0xfdf0, 0xfffd],
  [0x10000, 0xeffff],
] as const;
const nameParts = [
  [0x30, 0x39],
  [0xb7, 0xb7],
  [0x300, 0x36f],
  [0x203f, 0x2040],
] as const;
const isIn = (spans: readonly (readonly [number, number])[], sign: string): boolean => {
  const code = sign.codePointAt(0) ?? 0;
  return spans.some(([low, high]) => code >= low && code <= high);
};
const isNameSign = (sign: string): boolean => isIn(nameStarts, sign) || isIn(nameParts, sign) || /[./\-'+*]/u.test(sign);

/** Remembers what a function gives for texts that are asked for again and again: an app has a few thousand names. */
function remembered(give: (text: string) => string): (text: string) => string {
  const known = new Map<string, string>();
  return (text) => {
    let given = known.get(text);
    if (given !== undefined) return given;
    if (known.size >= 20_000) known.clear();
    given = give(text);
    known.set(text, given);
    return given;
  };
}

/** The label as FEEL can write it: marks that no FEEL name has are left out, a first digit gets an underscore. */
export const feelName = remembered(writable);

function writable(label: string): string {
  const allowed = [...label]
    .map((sign) => (isNameSign(sign) ? sign : ' '))
    .join('')
    .replace(/\*+/gu, '*')
    .replace(/\s+/gu, ' ')
    .trim();
  if (allowed === '') return '';
  return !isIn(nameStarts, allowed) || reserved.has(allowed.split(' ')[0] ?? '') ? `_${allowed}` : allowed;
}

/** The form in which names are compared: the same for `Unit  price` and `Unit price`, for `a-b` and `a - b`. */
export const key = remembered((name) => normalizeContextKey(name));

/** The names that are made of more than one part: only these have to be known before the text is read. */
export interface NameSet {
  readonly keys: ReadonlySet<string>;
  readonly prefixes: ReadonlySet<string>;
}

/**
 * @param names as they are compared
 * @param known one of these is given back where it holds the same names: what was read with it need not be read again
 */
export function nameSet(names: Iterable<string>, known: readonly NameSet[] = []): NameSet {
  const keys = new Set<string>();
  for (const name of names) if (name.includes(' ')) keys.add(name);
  const same = known.find((set) => set.keys.size === keys.size && [...keys].every((each) => set.keys.has(each)));
  if (same !== undefined) return same;
  const prefixes = new Set<string>();
  for (const whole of keys) for (let i = 1; i <= whole.length; i += 1) prefixes.add(whole.slice(0, i));
  return { keys, prefixes };
}

export const hasMark = (name: string): boolean => /[./\-'+*]/u.test(name);

/** The known name nearest to one that is not known, or null when none is near: at most a third of it differs. */
export function nearest(name: string, known: Iterable<string>): string | null {
  let best: string | null = null;
  let least = Math.max(1, Math.floor(name.length / 3)) + 1;
  for (const each of known) {
    const distance = editDistance(name.toLowerCase(), each.toLowerCase(), least);
    if (distance < least) [best, least] = [each, distance];
  }
  return best;
}

/** Optimal string alignment distance: insertions, deletions, replacements and swaps of neighbours; `most` when not below it. */
function editDistance(a: string, b: string, most: number): number {
  if (Math.abs(a.length - b.length) >= most) return most;
  const rows: number[][] = [Array.from({ length: b.length + 1 }, (_, i) => i)];
  const at = (i: number, j: number): number => rows[i]?.[j] ?? 0;
  for (let i = 1; i <= a.length; i += 1) {
    const row = [i];
    rows.push(row);
    for (let j = 1; j <= b.length; j += 1) {
      const swap = i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1] ? at(i - 2, j - 2) + 1 : most;
      row.push(Math.min(at(i - 1, j) + 1, (row[j - 1] ?? 0) + 1, at(i - 1, j - 1) + (a[i - 1] === b[j - 1] ? 0 : 1), swap));
    }
  }
  return at(a.length, b.length);
}
