/** Cells, lines and days of the demo's files, and the names that are in them. */

const firstNames = [
  'Tamsin',
  'Jorun',
  'Piet',
  'Hesper',
  'Anselm',
  'Bede',
  'Edda',
  'Orla',
  'Wystan',
  'Linnet',
  'Corin',
  'Maud',
  'Alder',
  'Sunniva',
  'Tobias',
  'Ysolde',
  'Perrin',
  'Greta',
] as const;
const lastNames = [
  'Oake',
  'Vasse',
  'Marlow',
  'Lunn',
  'Roke',
  'Corran',
  'Strand',
  'Fennick',
  'Thrale',
  'Holloway',
  'Bramwell',
  'Tarn',
  'Quill',
  'Sedge',
  'Larkin',
  'Mossop',
  'Withy',
] as const;
const placesA = [
  'Brack',
  'Heron',
  'Kiln',
  'Dunlin',
  'Cold',
  'Ashby',
  'Pike',
  'Mallow',
  'Elder',
  'Iron',
  'Lark',
  'Juniper',
  'Otter',
  'Rook',
  'Sallow',
  'Wether',
  'Amber',
  'Bell',
] as const;
const placesB = ['moor', ' Mere', ' Lane', ' Edge', ' Spring', ' Bank', ' Hollow', ' Fen', ' Croft', ' Gate', ' Field', ' Top', ' Ford'] as const;

/** RFC 4180: cells with a comma, quote or line end are quoted. */
const cell = (value: string | number | null): string => {
  const text = value === null ? '' : String(value);
  return /[",\n]/u.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
};
export const line = (...cells: readonly (string | number | null)[]): string => `${cells.map(cell).join(',')}\n`;
export const day = (daysSince2024: number): string => new Date(Date.UTC(2024, 0, 1) + daysSince2024 * 86_400_000).toISOString().slice(0, 10);

export const hiveCode = (n: number): string => `H-${String(n + 1).padStart(3, '0')}`;

function combined(a: readonly string[], b: readonly string[], separator: string, n: number): string {
  // Every pair once before any comes again, then with a number.
  const pairs = a.length * b.length;
  const i = (n * 7) % pairs;
  const name = `${a[i % a.length] ?? ''}${separator}${b[Math.floor(i / a.length) % b.length] ?? ''}`;
  return n < pairs ? name : `${name} ${Math.floor(n / pairs) + 1}`;
}
// 7 shares no factor with the number of pairs (18 × 17 and 18 × 13), so the steps of 7 reach each pair.
export const keeperName = (n: number): string => (n === 0 ? 'Tamsin Oake' : n === 1 ? 'Jorun Vasse' : combined(firstNames, lastNames, ' ', n + 30));
export const apiaryName = (n: number): string => combined(placesA, placesB, '', n);
