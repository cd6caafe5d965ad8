import { listOf, types } from '../types.js';
import { readPattern, type Pattern } from '../regex.js';
import { RowScope, SqlList, scalar, type SqlValue } from '../sql-value.js';
import { Decimal, isList, type Feel } from '../value.js';
import { accepts, always, inGroup, inLibrary, optional, parameter, scalars, type BuiltIn } from './function.js';

const text = inGroup('Texts');
const gives = always(types.string);
const [string, match, pattern] = [parameter('string', accepts.string), parameter('match', accepts.string), parameter('pattern', accepts.string)];

function substring(of: string, start: Decimal, count: Decimal | null): Feel {
  const signs = [...of];
  if (!start.isInteger() || start.isZero() || (count !== null && (!count.isInteger() || count.lt(1)))) return null;
  const from = start.isNegative() ? start.plus(signs.length) : start.minus(1);
  if (from.isNegative() || from.gte(signs.length)) return null;
  const at = from.toNumber();
  return signs.slice(at, count === null ? undefined : at + Math.min(count.toNumber(), signs.length)).join('');
}

/** The checker has read the pattern before; here it is only found again. */
function compiled(of: Feel, flags: Feel): Pattern | null {
  const result = readPattern(String(of), typeof flags === 'string' ? flags : '');
  return result.ok ? result.pattern : null;
}

// In a replacement $1 is what the first group matched, \$ and \\ are the signs themselves (XPath 3.1, fn:replace).
const replacementParts = (replacement: string): string[] => replacement.match(/\\.|\$\d|[^\\$]+|[\s\S]/gu) ?? [];
const sqlReplacement = (replacement: string): string =>
  replacementParts(replacement)
    .map((part) =>
      part === '$0'
        ? '\\&'
        : /^\$\d$/u.test(part)
          ? `\\${part.slice(1)}`
          : /^\\./u.test(part)
            ? part === '\\\\'
              ? '\\\\'
              : part.slice(1)
            : part.replace(/\\/gu, '\\\\'),
    )
    .join('');

function replaceAll(input: string, found: Pattern, replacement: string): string {
  const matcher = found.inMemory.matcher(input);
  const parts = replacementParts(replacement);
  let [result, at] = ['', 0];
  while (matcher.find()) {
    const put = parts.map((part) => (/^\$\d$/u.test(part) ? (matcher.group(Number(part.slice(1))) ?? '') : /^\\./u.test(part) ? part.slice(1) : part)).join('');
    result += input.slice(at, matcher.start()) + put;
    at = matcher.end();
  }
  return result + input.slice(at);
}

function splitBy(input: string, found: Pattern): string[] {
  const matcher = found.inMemory.matcher(input);
  const parts: string[] = [];
  let at = 0;
  while (matcher.find()) {
    parts.push(input.slice(at, matcher.start()));
    at = matcher.end();
  }
  return [...parts, input.slice(at)];
}

export const textFunctions: readonly BuiltIn[] = [
  text(
    'substring',
    [string, parameter('start position', accepts.number), optional('length', accepts.number)],
    'A part of a text, from a place counted from 1; from the end when the place is negative.',
    [
      ['substring("foobar", 3)', '"obar"'],
      ['substring("foobar", 3, 3)', '"oba"'],
      ['substring("foobar", -2, 1)', '"a"'],
      ['substring("🐝obar", 2)', '"obar"'],
    ],
    {
      gives,
      evaluate: ([of, start, count]) => substring(of as string, start as Decimal, (count as Decimal | undefined) ?? null),
      sql: scalars(([of, start, count]) => `feel.substring(${of}, ${start}, ${count ?? 'NULL'})`),
    },
  ),
  text(
    'string length',
    [string],
    'How many signs a text has.',
    [
      ['string length("foo")', '3'],
      ['string length("🐝ab")', '3'],
    ],
    { gives: always(types.number), evaluate: ([of]) => new Decimal([...(of as string)].length), sql: scalars(([of]) => `length(${of})::numeric`) },
  ),
  text('upper case', [string], 'The text in capitals.', [['upper case("aBc4")', '"ABC4"']], {
    gives,
    evaluate: ([of]) => (of as string).toUpperCase(),
    sql: inLibrary('upper'),
  }),
  text('lower case', [string], 'The text in small letters.', [['lower case("aBc4")', '"abc4"']], {
    gives,
    evaluate: ([of]) => (of as string).toLowerCase(),
    sql: inLibrary('lower'),
  }),
  text(
    'substring before',
    [string, match],
    'The text before the first match of the other text; empty text when there is none.',
    [
      ['substring before("foobar", "bar")', '"foo"'],
      ['substring before("foobar", "xyz")', '""'],
      ['substring before("foobar", "")', '""'],
    ],
    { gives, evaluate: ([of, part]) => (of as string).slice(0, Math.max(0, (of as string).indexOf(part as string))), sql: inLibrary('before') },
  ),
  text(
    'substring after',
    [string, match],
    'The text after the first match of the other text; empty text when there is none.',
    [
      ['substring after("foobar", "ob")', '"ar"'],
      ['substring after("", "a")', '""'],
      ['substring after("foo", "")', '"foo"'],
    ],
    {
      gives,
      evaluate: ([of, part]) => {
        const at = (of as string).indexOf(part as string);
        return at < 0 ? '' : (of as string).slice(at + (part as string).length);
      },
      sql: inLibrary('after'),
    },
  ),
  text(
    'contains',
    [string, match],
    'Whether the other text is somewhere in it.',
    [
      ['contains("foobar", "of")', 'false'],
      ['contains("foobar", "ob")', 'true'],
    ],
    {
      gives: always(types.boolean),
      evaluate: ([of, part]) => (of as string).includes(part as string),
      sql: scalars(([of, part]) => `(strpos(${of}, ${part}) > 0)`),
    },
  ),
  text('starts with', [string, match], 'Whether it starts with the other text.', [['starts with("foobar", "fo")', 'true']], {
    gives: always(types.boolean),
    evaluate: ([of, part]) => (of as string).startsWith(part as string),
    sql: scalars(([of, part]) => `starts_with(${of}, ${part})`),
  }),
  text('ends with', [string, match], 'Whether it ends with the other text.', [['ends with("foobar", "r")', 'true']], {
    gives: always(types.boolean),
    evaluate: ([of, part]) => (of as string).endsWith(part as string),
    sql: inLibrary('ends_with'),
  }),
  text(
    'matches',
    [parameter('input', accepts.string), pattern, optional('flags', accepts.string)],
    'Whether a pattern (regular expression) is found in it.',
    [
      ['matches("foobar", "^fo*b")', 'true'],
      ['matches("H-201", "^[A-Z]-\\\\d+$")', 'true'],
      ['matches("foobar", "^FO", "i")', 'true'],
    ],
    {
      gives: always(types.boolean),
      evaluate: ([input, of, flags]) =>
        compiled(of ?? null, flags ?? null)
          ?.inMemory.matcher(input as string)
          .find() ?? null,
      sql: (args, tools) => {
        const [input, of, flags] = args;
        const found = constantPattern(of, flags);
        return scalar(`(${tools.plain(input ?? scalar('NULL'))} ~ ${tools.param(found.sql, 'text')})`);
      },
    },
  ),
  text(
    'replace',
    [parameter('input', accepts.string), pattern, parameter('replacement', accepts.string), optional('flags', accepts.string)],
    'Every place where a pattern is found gets the replacement, in which $1 is what the first group ( ) has found.',
    [
      ['replace("banana", "a", "o")', '"bonono"'],
      ['replace("2026-05-01", "(\\\\d{4})-(\\\\d\\\\d)", "$2/$1")', '"05/2026-01"'],
    ],
    {
      gives,
      evaluate: ([input, of, replacement, flags]) => {
        const found = compiled(of ?? null, flags ?? null);
        return found === null ? null : replaceAll(input as string, found, replacement as string);
      },
      sql: ([input, of, replacement, flags], tools) => {
        const found = constantPattern(of, flags);
        const put = tools.param(sqlReplacement(constantText(replacement)), 'text');
        return scalar(`regexp_replace(${tools.plain(input ?? scalar('NULL'))}, ${tools.param(found.sql, 'text')}, ${put}, 'g')`);
      },
    },
  ),
  text(
    'split',
    [string, parameter('delimiter', accepts.string)],
    'The parts of a text between the places where a pattern is found.',
    [
      ['split("John Doe", "\\\\s")', '["John", "Doe"]'],
      ['split("a;b;c;;", ";")', '["a", "b", "c", "", ""]'],
    ],
    {
      gives: always(listOf(types.string)),
      evaluate: ([of, delimiter]) => {
        const found = compiled(delimiter ?? null, null);
        return found === null ? null : splitBy(of as string, found);
      },
      sql: ([of, delimiter], tools) => {
        const found = constantPattern(delimiter, undefined);
        const input = tools.plain(of ?? scalar('NULL'));
        const alias = tools.alias();
        const source = `LATERAL unnest(regexp_split_to_array(${input}, ${tools.param(found.sql, 'text')})) WITH ORDINALITY AS ${alias}(v, o)`;
        return new SqlList(source, new RowScope(), scalar(`${alias}.v`), `${alias}.o`, `${input} IS NOT NULL`);
      },
    },
  ),
  text(
    'string join',
    [parameter('list', accepts.strings), optional('delimiter', accepts.string)],
    'The texts of a list in one, with the other text between them; empty ones are left out.',
    [
      ['string join(["a","b","c"], "_and_")', '"a_and_b_and_c"'],
      ['string join(["a","b","c"])', '"abc"'],
      ['string join(["a",null,"c"], "X")', '"aXc"'],
      ['string join([], "X")', '""'],
    ],
    {
      strict: false,
      gives,
      evaluate: ([list, delimiter]) =>
        isList(list ?? null) ? (list as readonly Feel[]).filter((each) => each !== null).join(typeof delimiter === 'string' ? delimiter : '') : null,
      sql: ([list, delimiter], tools) => {
        const of = tools.list(list ?? scalar('NULL'));
        const between = delimiter === undefined ? `''` : `COALESCE(${tools.plain(delimiter)}, '')`;
        const { list: placed, alias } = tools.placed(of);
        return scalar(placed.whenThere(placed.select(`COALESCE(string_agg(${tools.plain(placed.value)}, ${between} ORDER BY ${alias}.o), '')`)));
      },
    },
  ),
];

/** Pattern, flags and replacement stand written out: the checker sees to it. */
function constantText(value: SqlValue | undefined): string {
  if (value?.kind === 'scalar' && value.written !== undefined) return value.written;
  throw new TypeError('A text that should have been written out is not');
}
function constantPattern(of: SqlValue | undefined, flags: SqlValue | undefined): Pattern {
  const result = readPattern(constantText(of), flags === undefined ? '' : constantText(flags));
  if (!result.ok) throw new TypeError(result.message);
  return result.pattern;
}
