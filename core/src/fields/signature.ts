/**
 * Signatures. A value has three lines: the strokes as the path of an SVG in a box of 300 by 100, who signed, and when. The last
 * two are written by the server: what a person sends is a path.
 */
import { z } from 'zod';
import { types } from '../feel/types.js';
import { wants } from '../feel/wants.js';
import { literal } from '../sql/sql.js';
import type { Locale } from '../values/locale.js';
import { asIs, identical, neverUnique, type FieldKind, type FieldPart } from './kind.js';
import { textTraits } from './read-text.js';
import { bad, good, type Value } from './value.js';

const shape = z.object({ kind: z.literal('signature'), ...neverUnique, default: z.null().default(null) });

export const signatureBox = { width: 300, height: 100 } as const;
/** Of a path, in characters: a signature takes a few hundred. */
export const longestPath = 12_000;
/** Strokes of straight lines in whole units: nothing else can be in the picture. */
const path = /^(?:M\d{1,3} \d{1,3}(?:L\d{1,3} \d{1,3})*)+$/u;

export interface Signature {
  readonly path: string;
  readonly by: string;
  /** An instant in UTC, to the second. */
  readonly at: string;
}
/** The signature of a value; without who and when where it is not saved yet. */
export function signatureIn(value: unknown): Signature | null {
  if (typeof value !== 'string') return null;
  const [drawn = '', by = '', at = ''] = value.split('\n');
  return path.test(drawn) && drawn.length <= longestPath ? { path: drawn, by, at } : null;
}

/** When something was signed, to the minute. */
export function whenSigned(at: string, locale: Locale): string {
  const [day = '', time = ''] = locale.wall(at).split(' ');
  return `${locale.date(day)}, ${locale.clock(time.slice(0, 5))}`;
}

function printed(value: Value, locale: Locale): string {
  const signed = signatureIn(value);
  if (signed === null) return '';
  return signed.by === '' ? 'Signed' : `${signed.by}, ${whenSigned(signed.at, locale)}`;
}

const bySql = (column: string): string => `NULLIF(split_part(${column}, E'\\n', 2), '')`;
const by: FieldPart = { type: types.string, from: (value) => signatureIn(value)?.by || null, sql: bySql };
const at: FieldPart = {
  type: types.moment,
  from: (value) => {
    const ms = Date.parse(signatureIn(value)?.at ?? '');
    return Number.isNaN(ms) ? null : { kind: 'date and time', ms };
  },
  sql: (column) => `NULLIF(split_part(${column}, E'\\n', 3), '')::timestamptz`,
};

export const signature = {
  word: 'Signature',
  description: 'drawn by hand, with who and when',
  named: /\b(?:signature|signed(?: by)?|sign-?off)$/iu,
  shape,
  traits: { ...textTraits, listWidth: 150, canBeUnique: false, canBeIndexed: false },
  digits: () => null,
  drawn: {
    drawing: (value) => {
      const signed = signatureIn(value);
      return signed === null ? null : { ...signatureBox, path: signed.path };
    },
    words: printed,
  },
  stamp: (value, who, when) => {
    const signed = signatureIn(value);
    return signed === null ? value : `${signed.path}\n${who.replace(/\p{Cc}/gu, ' ')}\n${when}`;
  },
  value: {
    parse: (typed) => (typed === '' ? good(null) : signatureIn(typed) === null ? bad('It must be drawn') : good(typed)),
    print: (value, _, locale) => printed(value, locale),
    typed: (value) => (typeof value === 'string' ? value : ''),
    problem: (value) => (signatureIn(value) === null ? 'must be drawn' : null),
    normal: asIs,
    same: identical,
    exported: (value) => {
      const signed = signatureIn(value);
      return signed === null ? null : `${signed.by} ${signed.at}`.trim();
    },
  },
  feel: {
    type: () => ({ kind: 'string', parts: { by: types.string, at: types.moment } }),
    from: (value) => signatureIn(value)?.by ?? '',
    parts: { by, at },
    to: () => null,
    literal: (value) => JSON.stringify(signatureIn(value)?.by ?? ''),
    wanted: wants.text,
  },
  column: {
    type: () => 'text',
    constant: (value) => literal(String(value)),
    rules: () => [],
    sortKey: (column) => `split_part(${column}, E'\\n', 2) || split_part(${column}, E'\\n', 3)`,
    sortType: 'text',
    sent: (column) => column,
    isWhole: true,
    stored: () => ({ seen: (column) => `split_part(${column}, E'\\n', 2)`, constant: () => null, isOrdered: false }),
    asText: (column) => `split_part(${column}, E'\\n', 2) || ' ' || split_part(${column}, E'\\n', 3)`,
    saysLess: true,
    fromText: () => 'NULL::text',
    takesEveryText: false,
    conversions: (_, before, after) => (after.kind === before.kind ? null : 'through text'),
  },
  cells: { reader: null, key: (text) => text, value: (text) => text, reading: null, settingsFor: null },
  sample: {
    settings: [{}],
    values: (fc) =>
      fc
        .array(fc.tuple(fc.integer({ min: 0, max: 300 }), fc.integer({ min: 0, max: 100 })), { minLength: 2, maxLength: 30 })
        .map((points) => `${points.map(([x, y], i) => `${i % 9 === 0 ? 'M' : 'L'}${x} ${y}`).join('')}\nAda\n2026-09-14T08:30:00Z`),
  },
} as const satisfies FieldKind<z.infer<typeof shape>>;
