/** Places on the earth. A value is a latitude and a longitude in degrees, like `53.9576, -1.0827` (WGS 84, as ISO 6709 has their order and signs). */
import { z } from 'zod';
import { types } from '../feel/types.js';
import { Decimal } from '../feel/value.js';
import { common, type FieldKind } from './kind.js';
import { readText, textTraits } from './read-text.js';

const shape = z.object({ kind: z.literal('place'), ...common, default: z.null().default(null) });

/** In degrees: to the north and to the east. */
export interface Point {
  readonly latitude: number;
  readonly longitude: number;
}

/** A millionth of a degree is a hand's breadth. */
const digits = 6;
const degrees = (value: number): string => String(Number(value.toFixed(digits)) + 0).replace(/^(-?\d)e-7$/u, '0');

/** The value of a point; null where there is no such point on earth. */
export function placeAs({ latitude, longitude }: Point): string | null {
  if (!(Math.abs(latitude) <= 90) || !(Math.abs(longitude) <= 180)) return null;
  return `${degrees(latitude)}, ${degrees(longitude)}`;
}
/** The point of a value, or null. */
export function pointOf(value: unknown): Point | null {
  const [latitude, longitude] = typeof value === 'string' ? value.split(', ').map(Number) : [];
  return latitude === undefined || longitude === undefined || Number.isNaN(latitude) || Number.isNaN(longitude) ? null : { latitude, longitude };
}

/** Where a point is shown in a map service. @param template with `{latitude}` and `{longitude}` in it */
export const mapAddressOf = (template: string, point: Point): string =>
  template.replaceAll('{latitude}', degrees(point.latitude)).replaceAll('{longitude}', degrees(point.longitude));

const number = String.raw`-?\d{1,3}(?:\.\d+)?`;
/** Pairs of numbers in addresses of maps and in `geo:` links (RFC 5870): after an @, as parameters, or as parts of the path. */
const inAddresses = [
  new RegExp(`[@:](${number}),\\+?(${number})`, 'u'),
  new RegExp(`[?&#]m?lat(?:itude)?=(${number}).*?[&#]m?(?:lon|lng|long)(?:itude)?=(${number})`, 'u'),
  new RegExp(`[?&#](?:q|ll|sll|cp|center|query|destination)=(?:loc:)?(${number})(?:,|%2C|~)\\+?(${number})`, 'iu'),
  new RegExp(`#(?:map=|.*@)?\\d{1,2}(?:\\.\\d+)?/(${number})/(${number})`, 'u'),
];

/** One of the two numbers as people write it: decimal degrees, or degrees, minutes and seconds, with a direction or a sign. */
const angle = String.raw`([NSEW])?\s*([-+−]?\d{1,3}(?:[.]\d+)?)\s*°?\s*(?:(\d{1,2}(?:\.\d+)?)\s*[′'’]\s*)?(?:(\d{1,2}(?:\.\d+)?)\s*(?:[″"”]|''|’’)\s*)?([NSEW])?`;
const pair = new RegExp(`^${angle}(?:\\s*[,;/]\\s*|\\s+)${angle}$`, 'iu');

interface Read {
  readonly value: number;
  readonly direction: string;
}
function angleIn([ahead, whole, minutes, seconds, behind]: readonly (string | undefined)[]): Read | null {
  if (ahead !== undefined && behind !== undefined) return null;
  const direction = (ahead ?? behind ?? '').toUpperCase();
  const plain = Number((whole ?? '').replace('−', '-'));
  const [sixtieth, second] = [Number(minutes ?? 0), Number(seconds ?? 0)];
  if (sixtieth >= 60 || second >= 60 || (direction !== '' && plain < 0)) return null;
  const size = Math.abs(plain) + sixtieth / 60 + second / 3600;
  const isNegative = /^[-−]/u.test(whole ?? '') || direction === 'S' || direction === 'W';
  return { value: isNegative ? -size : size, direction };
}

/** Reads what people write or paste: two numbers, degrees with minutes and seconds, or the address of a map. */
function readPlace(typed: string): string | null {
  if (/^(?:https?:|geo:)/iu.test(typed)) {
    for (const pattern of inAddresses) {
      const [, latitude, longitude] = pattern.exec(typed) ?? [];
      if (latitude !== undefined && longitude !== undefined) return placeAs({ latitude: Number(latitude), longitude: Number(longitude) });
    }
    return null;
  }
  // Commas within the numbers, as many regions write them: 53,9576; -1,0827
  const text = /^[^,;]*\d,\d[^,;]*[;\s]\s*[^,;]*\d,\d[^,;]*$/u.test(typed) ? typed.replaceAll(/(\d),(\d)/gu, '$1.$2') : typed;
  const match = pair.exec(text.trim());
  if (match === null) return null;
  const [first, second] = [angleIn(match.slice(1, 6)), angleIn(match.slice(6, 11))];
  if (first === null || second === null) return null;
  const isEast = (direction: string): boolean => direction === 'E' || direction === 'W';
  if (first.direction !== '' && second.direction !== '' && isEast(first.direction) === isEast(second.direction)) return null;
  const isTurned = isEast(first.direction) || (second.direction !== '' && !isEast(second.direction));
  const [latitude, longitude] = isTurned ? [second.value, first.value] : [first.value, second.value];
  return placeAs({ latitude, longitude });
}

const partSql = (column: string, at: 1 | 2): string => `split_part(${column}, ', ', ${at})::numeric`;

export const place = {
  word: 'Place',
  description: 'a point on the map',
  named: /\b(?:place|location|coordinates|gps|position)$/iu,
  shape,
  traits: { ...textTraits, words: false },
  ...readText<z.infer<typeof shape>>({
    wanted: 'a place. Write latitude and longitude like 53.9576, -1.0827, or paste the address of a map',
    read: readPlace,
    parts: {
      latitude: { type: types.number, from: (value) => new Decimal(pointOf(value)?.latitude ?? 0), sql: (column) => partSql(column, 1) },
      longitude: { type: types.number, from: (value) => new Decimal(pointOf(value)?.longitude ?? 0), sql: (column) => partSql(column, 2) },
    },
    fromText: (text) => {
      const found = (at: 1 | 2): string =>
        `substring(btrim(${text}) COLLATE "C" FROM ${at === 1 ? `'^(-?[0-9]{1,3}(?:[.][0-9]{1,20})?) *[,; ] *-?[0-9]{1,3}(?:[.][0-9]{1,20})?$'` : `'^-?[0-9]{1,3}(?:[.][0-9]{1,20})? *[,; ] *(-?[0-9]{1,3}(?:[.][0-9]{1,20})?)$'`})::numeric`;
      const shown = (at: 1 | 2): string => `trim_scale(round(${found(at)}, ${digits}))::text`;
      return `CASE WHEN abs(${found(1)}) <= 90 AND abs(${found(2)}) <= 180 THEN ${shown(1)} || ', ' || ${shown(2)} END`;
    },
  }),
  sample: {
    settings: [{}, { unique: true }],
    values: (fc) =>
      fc
        .tuple(fc.integer({ min: -90_000_000, max: 90_000_000 }), fc.integer({ min: -180_000_000, max: 180_000_000 }))
        .map(([latitude, longitude]) => placeAs({ latitude: latitude / 1e6, longitude: longitude / 1e6 })),
  },
} as const satisfies FieldKind<z.infer<typeof shape>>;
