import { writeDay, writeDuration, writeMonths, writeTime } from '../calendar.js';
import { writeMoment } from '../moments.js';
import { plainKind, types, type Type } from '../types.js';
import { scalar, type SqlTools } from '../sql-value.js';
import { Decimal, digitsOf, isList, isNumber, type Feel } from '../value.js';
import { accepts, always, inGroup, optional, parameter, scalars, type BuiltIn, type Given } from './function.js';

/** A value as text, as `string` gives it: texts as they are, all else as the language writes it without its function. */
export function textOf(value: Feel, { zone }: Pick<Given, 'zone'>): string | null {
  if (value === null) return null;
  if (typeof value === 'string') return value;
  if (typeof value === 'boolean') return String(value);
  if (isNumber(value)) return digitsOf(value);
  if (isList(value)) return null;
  switch (value.kind) {
    case 'date':
      return writeDay(value);
    case 'time':
      return writeTime(value);
    case 'date and time':
      return writeMoment(value, zone);
    case 'days and time duration':
      return writeDuration(value);
    case 'years and months duration':
      return writeMonths(value);
    default:
      return null;
  }
}

export function textSql(value: string, type: Type, tools: SqlTools): string {
  switch (plainKind(type)) {
    case 'number':
      return `feel.text_of(${value})`;
    case 'boolean':
      return `${value}::text`;
    case 'date':
      return `feel.text_of_date(${value})`;
    case 'time':
      return `feel.text_of_time(${value})`;
    case 'date and time':
      return `feel.text_of(${value}, ${tools.zone})`;
    case 'days and time duration':
      return `feel.text_of_duration(${value})`;
    case 'years and months duration':
      return `feel.text_of_months(${value})`;
    default:
      return value;
  }
}

function numberOf(text: string, grouping: Feel, decimal: Feel): Feel {
  if (grouping !== null && ![' ', ',', '.'].includes(grouping as string)) return null;
  if (decimal !== null && ![',', '.'].includes(decimal as string)) return null;
  if (grouping !== null && grouping === decimal) return null;
  let plain = grouping === null ? text : text.replaceAll(grouping as string, '');
  if (decimal !== null) plain = plain.replaceAll(decimal as string, '.');
  if (!/^-?([0-9]+([.][0-9]*)?|[.][0-9]+)$/u.test(plain) || plain.length > 60 || plain.replace(/[-.]/gu, '').replace(/^0+/u, '').length > 34) return null;
  return new Decimal(plain.replace(/\.$/u, ''));
}

const conversion = inGroup('Yes, no and conversions');

export const conversionFunctions: readonly BuiltIn[] = [
  conversion(
    'not',
    [parameter('negand', accepts.boolean)],
    'The opposite of yes or no.',
    [
      ['not(true)', 'false'],
      ['not(null)', 'null'],
    ],
    { gives: always(types.boolean), evaluate: ([of]) => of !== true, sql: scalars(([of]) => `(NOT ${of})`) },
  ),
  conversion(
    'string',
    [parameter('from', accepts.scalar)],
    'The value as text, to be joined with other texts by +.',
    [
      ['string(1.1)', '"1.1"'],
      ['string(null)', 'null'],
      ['string(date("2012-12-25"))', '"2012-12-25"'],
    ],
    {
      gives: always(types.string),
      evaluate: ([from], given) => textOf(from ?? null, given),
      sql: ([from], tools, [type]) => scalar(from === undefined ? 'NULL' : textSql(tools.plain(from), type ?? types.null, tools)),
    },
  ),
  conversion(
    'number',
    [parameter('from', accepts.string), optional('grouping separator', accepts.string), optional('decimal separator', accepts.string)],
    'The number that a text says; which marks group thousands and begin the fraction can be told.',
    [
      ['number("1 000,0", " ", ",")', '1000'],
      ['number("1,000.0", ",", ".")', '1000'],
      ['number("12.50")', '12.5'],
      ['number("twelve")', 'null'],
    ],
    {
      strict: false,
      gives: always(types.number),
      evaluate: ([from, grouping, decimal]) => (typeof from === 'string' ? numberOf(from, grouping ?? null, decimal ?? null) : null),
      sql: scalars(([from, grouping, decimal]) => `feel.number(${from}, ${grouping ?? 'NULL'}, ${decimal ?? 'NULL'})`),
    },
  ),
];
