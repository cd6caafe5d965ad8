/**
 * Conditions as rows: the common shapes of a condition, as they are pointed together. A row and its text are the same
 * thing; a text of any other shape is no rows, and stays a text.
 */
import { writtenText } from '../feel/write.js';
import { typeOfPart } from './check.js';
import type { Scope } from './scope.js';
import { plainKind, type Type } from '../feel/types.js';

export type Unit = 'days' | 'months' | 'years';

/** How a row compares. `values` says what it asks for. */
export const comparisons = {
  is: { words: 'is', values: 'one' },
  is_not: { words: 'is not', values: 'one' },
  less: { words: 'is less than', values: 'one' },
  at_most: { words: 'is at most', values: 'one' },
  more: { words: 'is more than', values: 'one' },
  at_least: { words: 'is at least', values: 'one' },
  between: { words: 'is between', values: 'two' },
  one_of: { words: 'is one of', values: 'many' },
  has: { words: 'includes', values: 'one' },
  has_not: { words: 'does not include', values: 'one' },
  none: { words: 'is empty', values: 'none' },
  some: { words: 'is filled', values: 'none' },
  contains: { words: 'contains', values: 'one' },
  starts: { words: 'starts with', values: 'one' },
  ends: { words: 'ends with', values: 'one' },
  me: { words: 'is the person who looks', values: 'none' },
  not_me: { words: 'is not the person who looks', values: 'none' },
  picked: { words: 'is the record', values: 'record' },
  not_picked: { words: 'is not the record', values: 'record' },
  empty: { words: 'is empty', values: 'none' },
  filled: { words: 'is filled', values: 'none' },
  yes: { words: 'is yes', values: 'none' },
  no: { words: 'is no', values: 'none' },
  today: { words: 'is today', values: 'none' },
  before_today: { words: 'is before today', values: 'none' },
  until_today: { words: 'is today or earlier', values: 'none' },
  from_today: { words: 'is today or later', values: 'none' },
  after_today: { words: 'is after today', values: 'none' },
  last: { words: 'is in the last', values: 'span' },
  next: { words: 'is in the next', values: 'span' },
  since: { words: 'is after, or at most ago:', values: 'span' },
  longer_ago: { words: 'is longer ago than', values: 'span' },
  sooner: { words: 'is before, or at most ahead:', values: 'span' },
  later: { words: 'is further ahead than', values: 'span' },
  this_month: { words: 'is in this month', values: 'none' },
  this_year: { words: 'is in this year', values: 'none' },
  year_now: { words: 'is the current year', values: 'none' },
} as const satisfies Record<string, { words: string; values: 'none' | 'one' | 'two' | 'many' | 'span' | 'record' }>;
export type Comparison = keyof typeof comparisons;

const any = ['empty', 'filled'] as const;
const byType: Readonly<Partial<Record<string, readonly Comparison[]>>> = {
  string: ['is', 'is_not', 'contains', 'starts', 'ends', 'one_of', ...any],
  choice: ['is', 'is_not', 'one_of', ...any],
  number: ['is', 'is_not', 'less', 'at_most', 'more', 'at_least', 'between', 'year_now', ...any],
  date: [
    'is',
    'is_not',
    'less',
    'at_most',
    'more',
    'at_least',
    'between',
    'today',
    'before_today',
    'until_today',
    'from_today',
    'after_today',
    'last',
    'next',
    'since',
    'longer_ago',
    'sooner',
    'later',
    'this_month',
    'this_year',
    ...any,
  ],
  boolean: ['yes', 'no', ...any],
  // `is` compares with another record that the record or the person leads to, `picked` with one that the builder picks.
  record: ['is', 'is_not', 'picked', 'not_picked', ...any],
};
/** For fields of several choices: expressions see their values as a list. */
const ofSeveral: readonly Comparison[] = ['has', 'has_not', 'none', 'some'];
/** For people, who are told apart by their mail addresses: a name can be that of two. */
const ofPeople: readonly Comparison[] = ['me', 'not_me', 'contains', ...any];
const isPerson = (type: Type): boolean => type.kind === 'string' && type.parts?.['mail'] !== undefined;
/** The comparisons that a value of a type has. */
export const comparisonsOf = (type: Type): readonly Comparison[] =>
  isPerson(type) ? ofPeople : type.kind === 'list' && type.of.kind === 'choice' ? ofSeveral : (byType[type.kind] ?? byType[plainKind(type)] ?? []);
/** Dates are before and after, where numbers are less and more. */
export const comparisonWords = (comparison: Comparison, type: Type): string =>
  type.kind === 'date'
    ? ({ less: 'is before', at_most: 'is on or before', more: 'is after', at_least: 'is on or after' }[comparison as string] ?? comparisons[comparison].words)
    : comparisons[comparison].words;

export interface Row {
  readonly kind: 'row';
  /** The field, walked to by references: `Hive.Apiary.Region`. */
  readonly path: string;
  readonly comparison: Comparison;
  /** Texts as they are, numbers as digits, dates as ISO. For a span the count and the unit. */
  readonly values: readonly string[];
  /** What it is compared with instead of a value: another field, or what belongs to the person (`me.Keeper`). */
  readonly other?: string;
}
export interface Group {
  readonly kind: 'group';
  readonly join: 'and' | 'or';
  readonly of: readonly (Row | Group)[];
}

export const noRows: Group = { kind: 'group', join: 'and', of: [] };

/** The type of a path, or null when there is no such path. */
export const typeOfPath = (path: string, scope: Scope): Type | null => typeOfPart(path, scope);

const spans: Readonly<Record<Unit, string>> = { days: 'D', months: 'M', years: 'Y' };

function valueText(value: string, type: Type): string {
  if (type.kind === 'number') return value;
  return type.kind === 'date' ? `date("${value}")` : writtenText(value);
}

/** A row as text; null while a value that it needs is missing. */
function rowText({ path, comparison, values, other }: Row, type: Type): string | null {
  const needed = { none: 0, one: 1, two: 2, many: 1, span: 2, record: 1 }[comparisons[comparison].values];
  const hasOther = other !== undefined && other !== '' && canCompare(comparison);
  if (!hasOther && (type.kind === 'record' && canCompare(comparison) ? needed > 0 : values.filter((value) => value.trim() !== '').length < needed)) return null;
  const [a = '', b = ''] = hasOther ? [other] : values.map((value) => valueText(value, type));
  const span = `duration("P${values[0] ?? ''}${spans[values[1] as Unit] ?? 'D'}")`;
  switch (comparison) {
    case 'is':
      return `${path} = ${a}`;
    case 'is_not':
      return `${path} != ${a}`;
    case 'less':
      return `${path} < ${a}`;
    case 'at_most':
      return `${path} <= ${a}`;
    case 'more':
      return `${path} > ${a}`;
    case 'at_least':
      return `${path} >= ${a}`;
    case 'between':
      return `${path} between ${a} and ${b}`;
    case 'one_of':
      return `${path} in (${values
        .filter((value) => value !== '')
        .map((value) => valueText(value, type))
        .join(', ')})`;
    case 'has':
      return `list contains(${path}, ${a})`;
    case 'has_not':
      return `not(list contains(${path}, ${a}))`;
    case 'none':
      return `count(${path}) = 0`;
    case 'some':
      return `count(${path}) > 0`;
    case 'contains':
      return `contains(${path}, ${a})`;
    case 'starts':
      return `starts with(${path}, ${a})`;
    case 'ends':
      return `ends with(${path}, ${a})`;
    case 'me':
      return `${path}.mail = me.Mail`;
    case 'not_me':
      return `${path}.mail != me.Mail`;
    case 'picked':
      return `record number(${path}) = ${values[0] ?? ''}`;
    case 'not_picked':
      return `record number(${path}) != ${values[0] ?? ''}`;
    case 'empty':
      return `${path} = null`;
    case 'filled':
      return `${path} != null`;
    case 'yes':
      return `${path} = true`;
    case 'no':
      return `${path} = false`;
    case 'today':
      return `${path} = today()`;
    case 'last':
      return `${path} between today() - ${span} and today()`;
    case 'next':
      return `${path} between today() and today() + ${span}`;
    case 'before_today':
      return `${path} < today()`;
    case 'until_today':
      return `${path} <= today()`;
    case 'from_today':
      return `${path} >= today()`;
    case 'after_today':
      return `${path} > today()`;
    case 'since':
      return `${path} >= today() - ${span}`;
    case 'longer_ago':
      return `${path} < today() - ${span}`;
    case 'sooner':
      return `${path} <= today() + ${span}`;
    case 'later':
      return `${path} > today() + ${span}`;
    case 'year_now':
      return `${path} = today().year`;
    case 'this_month':
      return `${path}.year = today().year and ${path}.month = today().month`;
    case 'this_year':
      return `${path}.year = today().year`;
    default:
      return comparison satisfies never;
  }
}

const withOther = new Set<Comparison>(['is', 'is_not', 'less', 'at_most', 'more', 'at_least']);
/** Whether a comparison can be with another field instead of a value. */
export const canCompare = (comparison: Comparison): boolean => withOther.has(comparison);

/** Rows as text; rows that are not whole yet are left out. The empty text when there is none. */
export function textOfRows(group: Group, scope: Scope): string {
  const parts = group.of.flatMap((each): string[] => {
    if (each.kind === 'row') {
      const type = typeOfPath(each.path, scope);
      const text = type === null ? null : rowText(each, type);
      // Two comparisons in one row hold together, whatever joins the rows around them.
      return text === null
        ? []
        : [
            each.comparison === 'this_month' ||
            (each.comparison === 'one_of' && each.values.length === 1) ||
            (each.comparison === 'between' && group.of.length > 1)
              ? `(${text})`
              : text,
          ];
    }
    const inner = textOfRows(each, scope);
    return inner === '' ? [] : [each.of.length > 1 ? `(${inner})` : inner];
  });
  return parts.join(` ${group.join} `);
}

/** The function that tells whether the person created a record. */
export const mine = 'created by me';
/** What is compared like a field where a condition asks whether the person created the record. */
export const pathOfMine = `${mine}()`;

/** Whether two values can be compared as they are: records of one table, or values of one kind. */
export const areAlike = (type: Type, other: Type): boolean =>
  type.kind === 'record' || other.kind === 'record'
    ? type.kind === 'record' && other.kind === 'record' && type.table === other.table
    : type.kind === other.kind || plainKind(type) === plainKind(other);
