/**
 * Names in expressions. FEEL lets names have spaces and a few marks (DMN 1.5, 10.3.1.2, rules 25 to 29), so that where a
 * name ends is only known from the names there are. Labels may hold what FEEL names may not; those marks are left out.
 */
import { normalizeContextKey } from 'lezer-feel';
import type { AppDesign, Table, TableId } from '../design/design.js';
import { tableOf } from '../design/read.js';

/** What stands behind a dot, or by itself, over the records of a table. */
export type Member =
  | { readonly kind: 'field'; readonly name: string; readonly field: Table['fields'][number] }
  | { readonly kind: 'children'; readonly name: string; readonly relationship: AppDesign['relationships'][number] };

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

/** The label as FEEL can write it: marks that no FEEL name has are left out, a first digit gets an underscore. */
export function feelName(label: string): string {
  const kept = [...label]
    .map((sign) => (isNameSign(sign) ? sign : ' '))
    .join('')
    .replace(/\*+/gu, '*')
    .replace(/\s+/gu, ' ')
    .trim();
  if (kept === '') return '';
  return !isIn(nameStarts, kept) || reserved.has(kept.split(' ')[0] ?? '') ? `_${kept}` : kept;
}

const lookupCache = new WeakMap<readonly Member[], ReadonlyMap<string, Member>>();
/** The member that a name as it is read (see `key`) means. */
export function memberCalled(design: AppDesign, table: TableId, name: string): Member | undefined {
  const members = membersOf(design, table);
  let lookup = lookupCache.get(members);
  if (lookup === undefined) lookupCache.set(members, (lookup = new Map(members.map((one) => [key(one.name), one]))));
  return lookup.get(name);
}

const memberCache = new WeakMap<AppDesign, Map<TableId, readonly Member[]>>();

/**
 * What can be named over records of a table. Where two labels give the same name, each is called by its column, which
 * is unique; so a name never means one of two things.
 */
export function membersOf(design: AppDesign, table: TableId): readonly Member[] {
  let tables = memberCache.get(design);
  if (tables === undefined) memberCache.set(design, (tables = new Map<TableId, readonly Member[]>()));
  let members = tables.get(table);
  if (members === undefined) tables.set(table, (members = namedMembers(design, tableOf(design, table))));
  return members;
}

function namedMembers(design: AppDesign, table: Table): readonly Member[] {
  const wanted: Member[] = [
    ...table.fields.map((field): Member => ({ kind: 'field', name: feelName(field.name), field })),
    ...design.relationships
      .filter((one) => one.parent === table.id)
      .map((relationship): Member => ({ kind: 'children', name: feelName(relationship.childrenName), relationship })),
  ];
  const times = new Map<string, number>();
  for (const { name } of wanted) times.set(key(name), (times.get(key(name)) ?? 0) + 1);
  const named = wanted.map((one): Member => (one.name !== '' && times.get(key(one.name)) === 1 ? one : { ...one, name: plainName(design, one) }));
  const used = new Set<string>();
  return named.map((one) => {
    let name = one.name;
    for (let n = 2; used.has(key(name)); n += 1) name = `${one.name}_${n}`;
    used.add(key(name));
    return name === one.name ? one : { ...one, name };
  });
}

function plainName(design: AppDesign, member: Member): string {
  if (member.kind === 'field') return member.field.column;
  const child = tableOf(design, member.relationship.child);
  const field = child.fields.find((one) => one.id === member.relationship.field);
  return `${child.slug}_by_${field?.column ?? 'reference'}`;
}

/** The form in which names are compared: the same for `Unit  price` and `Unit price`, for `a-b` and `a - b`. */
export const key = (name: string): string => normalizeContextKey(name);

/** The names that are made of more than one part: only these have to be known before the text is read. */
export interface NameSet {
  readonly keys: ReadonlySet<string>;
  readonly prefixes: ReadonlySet<string>;
}

function nameSet(names: Iterable<string>): NameSet {
  const keys = new Set<string>();
  const prefixes = new Set<string>();
  for (const name of names) {
    const whole = key(name);
    if (!whole.includes(' ')) continue;
    keys.add(whole);
    for (let i = 1; i <= whole.length; i += 1) prefixes.add(whole.slice(0, i));
  }
  return { keys, prefixes };
}

const hasMark = (name: string): boolean => /[./\-'+*]/u.test(name);

const setCache = new WeakMap<AppDesign, Map<string, NameSet>>();
/**
 * The names known while an expression over `table` is read. A name with a mark in it, such as Sale-price, can be meant as
 * a difference where it is not the table's own: in the `narrow` reading only the table's own names may have marks.
 */
export function knownNames(design: AppDesign, table: TableId | null, others: readonly string[], narrow = false): NameSet {
  let sets = setCache.get(design);
  if (sets === undefined) setCache.set(design, (sets = new Map<string, NameSet>()));
  const place = narrow ? (table ?? '') : '*';
  let set = sets.get(place);
  if (set === undefined) {
    const names = design.tables.flatMap((one) =>
      membersOf(design, one.id)
        .map((member) => member.name)
        .filter((name) => !narrow || one.id === table || !hasMark(name)),
    );
    const ties = design.ties.map((tie) => feelName(tie.name));
    sets.set(place, (set = nameSet([...names, ...ties, ...others])));
  }
  return set;
}

/** The known name nearest to one that is not known, or null when none is near: at most a third of it differs. */
export function nearest(name: string, known: Iterable<string>): string | null {
  let best: string | null = null;
  let least = Math.max(1, Math.floor(name.length / 3)) + 1;
  for (const one of known) {
    const distance = editDistance(name.toLowerCase(), one.toLowerCase(), least);
    if (distance < least) [best, least] = [one, distance];
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
