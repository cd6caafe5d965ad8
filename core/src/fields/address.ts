/**
 * Postal addresses. A value has six lines: street, a second line, postcode, city, region and country, of which some are empty.
 * Expressions see it as one text, and its parts behind a dot: `Address.city`.
 */
import { z } from 'zod';
import { types } from '../feel/types.js';
import { countryCalled } from '../values/countries.js';
import { neverUnique, type FieldKind, type FieldPart } from './kind.js';
import { readText, textTraits } from './read-text.js';

const shape = z.object({ kind: z.literal('address'), ...neverUnique, default: z.null().default(null) });

export const addressParts = ['street', 'extra', 'postcode', 'city', 'region', 'country'] as const;
export type Address = Readonly<Record<(typeof addressParts)[number], string>>;
export const noAddress: Address = { street: '', extra: '', postcode: '', city: '', region: '', country: '' };
/** Of one part, in characters. */
const longestPart = 200;

/** The parts of a value; all are empty where it is none. */
export function addressOf(value: unknown): Address {
  const lines = typeof value === 'string' ? value.split('\n') : [];
  return Object.fromEntries(addressParts.map((part, i) => [part, lines[i] ?? ''])) as unknown as Address;
}
/** The value of an address; null where it is empty, or a part of it is too long. */
export function addressAs(address: Address): string | null {
  // Semicolons part the parts in files.
  const lines = addressParts.map((part) =>
    address[part]
      .replace(/[\p{Cc}\s]+/gu, ' ')
      .replaceAll(';', ',')
      .trim(),
  );
  return lines.every((line) => line === '') || lines.some((line) => line.length > longestPart) || !address.street.isWellFormed() ? null : lines.join('\n');
}

/** An address on one line, as it is written on letters. */
function printAddress(value: string): string {
  const { street, extra, postcode, city, region, country } = addressOf(value);
  return [street, extra, `${postcode} ${city}`.trim(), region, country].filter((part) => part !== '').join(', ');
}
const lineSql = (column: string, part: (typeof addressParts)[number]): string => `NULLIF(split_part(${column}, E'\\n', ${addressParts.indexOf(part) + 1}), '')`;
const printedSql = (column: string): string => `feel.address(${column})`;

const american = /^(?:(?<region>[A-Z]{2})\s+)?(?<postcode>\d{5}-\d{4}|\d{5})$/u;
const before = /^(?:[A-Z]{1,2}[-–])?(?<postcode>\d{4,6}|\d{3} \d{2}|\d{4} [A-Z]{2}|\d{2}-\d{3}|\d{4}-\d{3})\s+(?<city>\D.*)$/u;
const british = /^(?:(?<city>.*?)[\s,]+)?(?<postcode>[A-Z]{1,2}\d[A-Z\d]?\s?\d[A-Z]{2})$/iu;

/** Finds the parts of an address that was written in one piece: at its postcode, and the country by its name. */
export function readAddress(text: string): Address {
  const pieces = text
    .split(/[\n,;]/u)
    .map((piece) => piece.trim())
    .filter((piece) => piece !== '');
  const country = pieces.length > 1 ? countryCalled(pieces.at(-1) ?? '') : null;
  if (country !== null) pieces.pop();
  const found = pieces.map((piece) => american.exec(piece)?.groups ?? before.exec(piece)?.groups ?? british.exec(piece)?.groups);
  const at = found.findLastIndex((groups) => groups !== undefined);
  const { postcode = '', city, region = '' } = found[at] ?? {};
  // Without a postcode the last piece is the city. A postcode in a piece of its own comes after its city.
  const cityAt = at === -1 ? pieces.length - 1 : city === undefined ? at - 1 : at;
  const [street = '', ...extra] = pieces.slice(0, Math.max(cityAt, at === -1 ? 1 : 0));
  const rest = pieces.slice(Math.max(at, cityAt) + 1);
  return {
    street,
    extra: extra.join(', '),
    postcode,
    city: city ?? (cityAt > 0 || (cityAt === 0 && at > 0) ? (pieces[cityAt] ?? '') : ''),
    region: [region, ...rest].filter((part) => part !== '').join(', '),
    country: country ?? '',
  };
}

function read(typed: string): string | null {
  const lines = typed.split('\n');
  const pieces = lines.length === addressParts.length ? lines : typed.split(';');
  if (pieces.length !== addressParts.length) return addressAs(readAddress(typed));
  return addressAs(Object.fromEntries(addressParts.map((part, i) => [part, pieces[i]])) as unknown as Address);
}

const part = (name: (typeof addressParts)[number]): FieldPart => ({
  type: types.string,
  from: (value) => addressOf(value)[name] || null,
  sql: (column) => lineSql(column, name),
});

export const address = {
  word: 'Postal address',
  description: 'street, postcode, city, country',
  named: /(?<!\b(?:e-?mail|mail|web|internet|ip|network) )\baddress$/iu,
  shape,
  traits: { ...textTraits, formWidth: 12, listWidth: 260, rowWidth: 260, canBeUnique: false, canBeIndexed: false },
  ...readText<z.infer<typeof shape>>({
    hasLines: true,
    wanted: 'an address. Write it like 3 Mill Lane, YO1 7HH York, United Kingdom',
    read,
    isStored: (text) => text.split('\n').length === addressParts.length && addressAs(addressOf(text)) === text,
    print: printAddress,
    exported: (value) => value.split('\n').join('; '),
    seen: { as: printAddress, sql: printedSql },
    parts: {
      street: part('street'),
      extra: part('extra'),
      postcode: part('postcode'),
      city: part('city'),
      region: part('region'),
      country: part('country'),
    },
    saysLess: true,
    // A text is one piece to the database: it becomes the street, unless it was exported from such a field.
    fromText: (text) => {
      const clean = `btrim(regexp_replace(${text}, '[[:cntrl:][:space:]]+', ' ', 'g'))`;
      const isParted = `array_length(string_to_array(${clean}, ';'), 1) = ${addressParts.length}`;
      const parted = `regexp_replace(${clean}, ' *; *', E'\\n', 'g')`;
      return `CASE WHEN btrim(${clean}, '; ') = '' OR length(${clean}) > ${longestPart} THEN NULL WHEN ${isParted} THEN ${parted} ELSE replace(${clean}, ';', ',') || E'\\n\\n\\n\\n\\n' END`;
    },
  }),
  sample: {
    settings: [{}],
    values: (fc) =>
      fc
        .tuple(
          fc.constantFrom('3 Mill Lane', 'Am Anger 12', "Rue de l'Été 4b", ''),
          fc.constantFrom('', 'Building 7, second floor'),
          fc.constantFrom('YO1 7HH', '80331', ''),
          fc.constantFrom('York', 'München', 'São João', '=SUM(1)'),
          fc.constantFrom('', 'North Yorkshire'),
          fc.constantFrom('United Kingdom', 'Germany', ''),
        )
        .map((lines) => lines.join('\n')),
  },
} as const satisfies FieldKind<z.infer<typeof shape>>;
