/**
 * People of the app. A value is a name and a mail address as mails have them (RFC 5322): `Wystan Quill <wystan@example.org>`.
 * The mail address tells who it is; the name is read anew wherever a value is shown, so that it is never an old one.
 */
import { z } from 'zod';
import { types } from '../feel/types.js';
import { wants } from '../feel/wants.js';
import { literal } from '../sql/sql.js';
import { common, Default, readsAlike, type FieldKind, type FieldPart } from './kind.js';
import { textTraits } from './read-text.js';
import { bad, good, type Value } from './value.js';

const shape = z.object({ kind: z.literal('person'), ...common, unique: z.literal(false).default(false), default: Default });
type Plan = z.infer<typeof shape>;

export interface NamedPerson {
  readonly name: string;
  readonly mail: string;
}

const mailbox = /^(?:([^<>\p{Cc}]{1,120}) )?<([^<>\s@]{1,100}@[^<>\s@]{1,100})>$/u;
const bare = /^[^<>\s@]{1,100}@[^<>\s@]{1,100}$/u;

/** The person of a value; without a name where only the mail address is known. */
export function personIn(value: unknown): NamedPerson | null {
  if (typeof value !== 'string') return null;
  if (bare.test(value)) return { name: '', mail: value };
  const [, name = '', mail] = mailbox.exec(value) ?? [];
  return mail === undefined ? null : { name, mail };
}
export const personAs = ({ name, mail }: NamedPerson): string => `${name.replace(/[<>\p{Cc}]/gu, '').trim()} <${mail}>`;
/** The value of the person who asks, as an expression. */
export const meAsValue = 'me.Name + " <" + me.Mail + ">"';

const nameOf = (value: Value): string => {
  const person = personIn(value);
  return person === null ? '' : person.name === '' ? person.mail : person.name;
};
const mailSql = (column: string): string => `COALESCE(substring(${column} FROM '<([^<>]*)>$'), ${column})`;
/** Something of the account of that person. */
const accountSql = (column: string, what: string): string => `(SELECT ${what} FROM bibliona.person AS who WHERE who.email = ${mailSql(column)})`;
const cleanName = `translate(who.name, '<>', '')`;
const nameSql = (column: string): string => `COALESCE(${accountSql(column, cleanName)}, NULLIF(split_part(${column}, ' <', 1), ''))`;

const wanted = 'one of the people of this app';
const name: FieldPart = { type: types.string, from: nameOf, sql: nameSql };
const mail: FieldPart = { type: types.string, from: (value) => personIn(value)?.mail ?? null, sql: mailSql };

export const person = {
  word: 'Person',
  description: 'one of the people of this app',
  named: /\b(?:assigned to|responsible|assignee|owner|handled by|in charge)\b/iu,
  shape,
  traits: { ...textTraits, listWidth: 170, canBeUnique: false },
  digits: () => null,
  people: personIn,
  value: {
    // A name alone can be that of two people: they are picked, or matched on import, where the people are at hand.
    parse: (typed) =>
      typed.trim() === '' ? good(null) : personIn(typed.trim()) === null ? bad('It must be picked from the people of this app') : good(typed.trim()),
    print: nameOf,
    typed: (value) => (typeof value === 'string' ? value : ''),
    problem: (value) => (personIn(value) === null ? `must be ${wanted}` : null),
    normal: (value) => value,
    same: (a, b) => a === b || (personIn(a) !== null && personIn(a)?.mail === personIn(b)?.mail),
    exported: (value) => value,
  },
  feel: {
    type: () => ({ kind: 'string', parts: { name: types.string, mail: types.string } }),
    from: nameOf,
    parts: { name, mail },
    to: (computed) => (typeof computed === 'string' && personIn(computed) !== null ? computed : null),
    literal: (value) => JSON.stringify(value),
    wanted: wants.text,
  },
  column: {
    type: () => 'text',
    constant: (value) => literal(String(value)),
    rules: () => [],
    sortKey: (column) => column,
    sortType: 'text',
    sent: (column) => `COALESCE(${accountSql(column, `${cleanName} || ' <' || who.email || '>'`)}, ${column})`,
    isWhole: true,
    stored: () => ({ seen: nameSql, constant: () => null, isOrdered: false }),
    asText: (column) => column,
    saysLess: true,
    fromText: () => 'NULL::text',
    takesEveryText: false,
    // A text can't become a person again: through text, the people are kept aside.
    conversions: (_, __, after) => (after.kind === 'person' ? null : 'through text'),
  },
  cells: {
    reader: (_, __, people) => (text) => {
      if (people === null) return personIn(text.trim()) === null ? { problem: `is not ${wanted}` } : text.trim();
      const found = people.get(text.trim().toLowerCase());
      if (found === undefined) return { problem: `is not ${wanted}` };
      return found === null ? { problem: 'is the name of more than one person: write their mail address' } : String(found);
    },
    ...readsAlike,
    reading: null,
    settingsFor: null,
  },
  sample: {
    settings: [{}],
    values: (fc) =>
      fc
        .constantFrom('Wystan Quill', "Ada O'Lunn", 'Tamsin Oake')
        .map((called) => personAs({ name: called, mail: `${called.slice(0, 3).toLowerCase()}@example.org` })),
  },
} as const satisfies FieldKind<Plan>;
