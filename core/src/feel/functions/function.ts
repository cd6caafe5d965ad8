/** What a function of the language is: one row of a table that feeds the checker, both engines, the help and the tests. */
import type { Feel, RecordValue } from '../value.js';
import { isOrdered, isScalar, plainKind, types, type Type } from '../types.js';
import type { SqlTools, SqlValue } from '../sql-value.js';

/** What comes from outside of an expression. Core has neither clock nor place. */
export interface Given {
  /** Milliseconds since 1970 UTC. */
  readonly now: number;
  /** The time zone of the app, by its IANA name. */
  readonly zone: string;
  /** The number of a record whose id is a name, such as one that is being entered: null until it has one. */
  readonly numberOf?: (record: RecordValue) => number | null;
  /** Whether the person created a record; null where that is not known. */
  readonly isMine?: (record: RecordValue) => boolean | null;
  /** Who wrote a record and when; null where that is not known. */
  readonly made?: (record: RecordValue) => Made | null;
}

/** Who added a record and who changed it last, by name, and when, in milliseconds since 1970 UTC. */
export interface Made {
  readonly createdAt: number;
  readonly createdBy: string | null;
  readonly changedAt: number;
  readonly changedBy: string | null;
}

export interface Accepts {
  readonly description: string;
  readonly fits: (type: Type) => boolean;
  /** What the elements of an empty list are taken for. */
  readonly usual?: Type;
}

export interface Parameter {
  readonly name: string;
  readonly accepts: Accepts;
  readonly optional?: boolean;
}

export const groups = ['Numbers', 'Texts', 'Lists', 'Dates and times', 'Ranges', 'Records', 'Yes, no and conversions'] as const;
export type Group = (typeof groups)[number];

export interface BuiltIn {
  readonly name: string;
  readonly group: Group;
  readonly parameters: readonly Parameter[];
  /** Whether what stands for the (only) list can also be written as its elements: `max(a, b)`. */
  readonly spread?: boolean;
  /** Whether the record itself is meant where the argument is left out. */
  readonly ofSelf?: boolean;
  /** One sentence for the help. */
  readonly help: string;
  /** Expressions without fields and what they give, as the language writes it; the first is shown in the help. */
  readonly examples: readonly (readonly [expression: string, result: string])[];
  readonly gives: (args: readonly Type[]) => Type;
  /** With a null among the arguments the result is null without being computed. */
  readonly strict: boolean;
  readonly evaluate: (args: readonly Feel[], given: Given) => Feel;
  readonly sql: (args: readonly SqlValue[], tools: SqlTools, types: readonly Type[]) => SqlValue;
}

const acceptsNullOr = (description: string, fits: (type: Type) => boolean): Accepts => ({ description, fits: (type) => type.kind === 'null' || fits(type) });
const ofKind = (description: string, ...wanted: readonly Type['kind'][]): Accepts => acceptsNullOr(description, (type) => wanted.includes(plainKind(type)));
const listWhere = (description: string, fits: (of: Type) => boolean, usual?: Type): Accepts => ({
  description,
  ...(usual === undefined ? {} : { usual }),
  fits: (type) => type.kind === 'list' && (type.of.kind === 'null' || fits(type.of)),
});

const sized = ['number', 'days and time duration', 'years and months duration'] as const;
const isPlain = (type: Type): boolean => isScalar(type) || type.kind === 'record';

export const accepts = {
  number: ofKind('a number', 'number'),
  string: ofKind('a text', 'string'),
  boolean: ofKind('yes or no', 'boolean'),
  time: ofKind('a time', 'time'),
  anyDate: ofKind('a date', 'date', 'date and time'),
  dateOrText: ofKind('a date or a text', 'date', 'date and time', 'string'),
  sized: ofKind('a number or a length of time', ...sized),
  scalar: acceptsNullOr('one plain value', isScalar),
  record: acceptsNullOr('a record', (type) => type.kind === 'record'),
  element: acceptsNullOr('one value', isPlain),
  list: listWhere('a list', () => true),
  plainList: listWhere('a list of plain values or records', isPlain),
  numbers: listWhere('a list of numbers', (of) => of.kind === 'number', types.number),
  addable: listWhere('a list of numbers or lengths of time', (of) => (sized as readonly string[]).includes(of.kind), types.number),
  booleans: listWhere('a list of yes and no', (of) => of.kind === 'boolean', types.boolean),
  strings: listWhere('a list of texts', (of) => plainKind(of) === 'string', types.string),
  orderedList: listWhere('a list of numbers, texts, dates or times', isOrdered),
  pointOrRange: acceptsNullOr('a value or a range', (type) => type.kind === 'range' || isOrdered(type)),
  range: ofKind('a range', 'range'),
} as const;

export const parameter = (name: string, takes: Accepts): Parameter => ({ name, accepts: takes });
export const optional = (name: string, takes: Accepts): Parameter => ({ name, accepts: takes, optional: true });
export const always = (type: Type) => (): Type => type;
export const elementOf = (type: Type | undefined): Type => (type?.kind === 'list' ? type.of : types.null);

/** The SQL of a function of scalars: an argument that was left out is null. */
export const scalars =
  (write: (args: readonly string[], tools: SqlTools) => string) =>
  (args: readonly SqlValue[], tools: SqlTools): SqlValue => ({
    kind: 'scalar',
    sql: write(
      args.map((arg) => tools.plain(arg)),
      tools,
    ),
  });
/** A function of the SQL library by its name. */
export const inLibrary = (name: string) => scalars((args) => `feel.${name}(${args.join(', ')})`);

type Rest = Pick<BuiltIn, 'gives' | 'evaluate' | 'sql'> & Partial<Pick<BuiltIn, 'strict' | 'spread' | 'ofSelf'>>;
/** Rows of one group of the table: most are strict. */
export const inGroup =
  (group: Group) =>
  (name: string, parameters: BuiltIn['parameters'], help: string, examples: BuiltIn['examples'], rest: Rest): BuiltIn => ({
    name,
    group,
    parameters,
    help,
    examples,
    strict: true,
    ...rest,
  });
