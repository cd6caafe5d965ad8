/** Columns that every table has and that the product keeps itself. */
export const systemColumns = ['id', 'rev', 'created_at', 'created_by', 'updated_at', 'updated_by'] as const;

const longest = 54; // leaves room for "_99" and stays far below the 63 bytes at which PostgreSQL cuts a name

/** The part of a label that can stand as a name in the database: "Unit price, €" becomes "unit_price". */
export function slugOf(label: string): string {
  const plain = label
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .replace(/ß/gu, 'ss')
    .replace(/[øØ]/gu, 'o')
    .replace(/[łŁ]/gu, 'l')
    .replace(/[æÆ]/gu, 'ae')
    .toLowerCase()
    .replace(/[^a-z0-9]+/gu, '_')
    .replace(/^_+|_+$/gu, '')
    .slice(0, longest)
    .replace(/_+$/u, '');
  if (plain === '') return 'x';
  return /^[0-9]/u.test(plain) ? `n_${plain}` : plain;
}

/** A slug for `label` that is in none of `taken`: the slug itself or the first of slug_2, slug_3, … that is free. */
export function freeSlug(label: string, taken: Iterable<string>): string {
  const used = taken instanceof Set ? (taken as ReadonlySet<string>) : new Set(taken);
  const wanted = slugOf(label);
  if (!used.has(wanted)) return wanted;
  for (let n = 2; ; n += 1) if (!used.has(`${wanted}_${n}`)) return `${wanted}_${n}`;
}

/** The name, or the name with a number after it where it is taken; capitals make no difference. */
export function freeName(wanted: string, taken: readonly string[]): string {
  const used = new Set(taken.map((name) => name.toLowerCase()));
  if (!used.has(wanted.toLowerCase())) return wanted;
  // A name has at most 60 characters.
  for (let n = 2; ; n += 1) if (!used.has(`${wanted.slice(0, 55)} ${n}`.toLowerCase())) return `${wanted.slice(0, 55)} ${n}`;
}
