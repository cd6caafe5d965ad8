/** The types of the expression language, which are those of FEEL (OMG DMN 1.5, 10.3.2.2) and the records of an app. */
/** Where records are of: a table by its id. */
type TableId = string;

const scalarTypes = ['number', 'string', 'boolean', 'date', 'time', 'date and time', 'days and time duration', 'years and months duration'] as const;
export type ScalarType = (typeof scalarTypes)[number];

export type Type =
  /** Some texts are made of parts that have names, such as the city of an address. */
  | { readonly kind: ScalarType; readonly parts?: Readonly<Record<string, Type>> }
  /** The type of the literal null, and of an empty list's elements: it goes with every other. */
  | { readonly kind: 'null' }
  /** A choice is a string of which the possible values are known. */
  | { readonly kind: 'choice'; readonly labels: readonly string[]; readonly table: TableId; readonly field: string }
  | { readonly kind: 'list'; readonly of: Type }
  | { readonly kind: 'record'; readonly table: TableId }
  | { readonly kind: 'range'; readonly of: Type }
  | { readonly kind: 'context'; readonly entries: Readonly<Record<string, Type>> };

const scalar = (kind: ScalarType): Type => ({ kind });
export const types = {
  number: scalar('number'),
  string: scalar('string'),
  boolean: scalar('boolean'),
  date: scalar('date'),
  time: scalar('time'),
  moment: scalar('date and time'),
  duration: scalar('days and time duration'),
  months: scalar('years and months duration'),
  null: { kind: 'null' } as Type,
};
export const listOf = (of: Type): Type => ({ kind: 'list', of });

/** Choices are strings in all but the knowledge of their labels. */
export const plainKind = (type: Type): Exclude<Type['kind'], 'choice'> => (type.kind === 'choice' ? 'string' : type.kind);

const ordered: ReadonlySet<Type['kind']> = new Set([
  'number',
  'string',
  'date',
  'time',
  'date and time',
  'days and time duration',
  'years and months duration',
  'null',
]);
/** Whether values of the type can be compared by size. */
export const isOrdered = (type: Type): boolean => ordered.has(plainKind(type));

export const isScalar = (type: Type): boolean => (scalarTypes as readonly string[]).includes(plainKind(type));

/** The type that holds values of both, or null when there is none. */
export function unite(a: Type, b: Type): Type | null {
  if (a.kind === 'null') return b;
  if (b.kind === 'null') return a;
  if (a.kind === 'choice' || b.kind === 'choice') {
    if (a.kind === 'choice' && b.kind === 'choice' && a.field === b.field) return a;
    return plainKind(a) === plainKind(b) ? types.string : null;
  }
  if (a.kind === 'list' && b.kind === 'list') {
    const of = unite(a.of, b.of);
    return of === null ? null : listOf(of);
  }
  if (a.kind === 'range' && b.kind === 'range') {
    const of = unite(a.of, b.of);
    return of === null ? null : { kind: 'range', of };
  }
  if (a.kind === 'record' && b.kind === 'record') return a.table === b.table ? a : null;
  if (a.kind === 'context' && b.kind === 'context') return uniteContexts(a.entries, b.entries);
  return a.kind === b.kind ? a : null;
}

function uniteContexts(a: Readonly<Record<string, Type>>, b: Readonly<Record<string, Type>>): Type | null {
  const names = Object.keys(a);
  if (names.length !== Object.keys(b).length) return null;
  const entries: Record<string, Type> = {};
  for (const name of names) {
    const [left, right] = [a[name], b[name]];
    const both = left === undefined || right === undefined ? null : unite(left, right);
    if (both === null) return null;
    entries[name] = both;
  }
  return { kind: 'context', entries };
}

const plainWords: Readonly<Record<ScalarType, string>> = {
  number: 'a number',
  string: 'a text',
  boolean: 'yes or no',
  date: 'a date',
  time: 'a time of day',
  'date and time': 'a date and time',
  'days and time duration': 'a length of time in days and hours',
  'years and months duration': 'a length of time in years and months',
};

/** The type as a person would say it. `of` knows what tables are called. */
export function describeType(type: Type, of: { readonly tables: readonly { readonly id: TableId; readonly name: string }[] }): string {
  const nameOf = (table: TableId): string => of.tables.find((each) => each.id === table)?.name ?? table;
  switch (type.kind) {
    case 'null':
      return 'empty';
    case 'choice':
      return 'a choice';
    case 'list':
      return type.of.kind === 'record'
        ? `a list of records of ${nameOf(type.of.table)}`
        : type.of.kind === 'null'
          ? 'an empty list'
          : `a list, each ${describeType(type.of, of)}`;
    case 'record':
      return `a record of ${nameOf(type.table)}`;
    case 'range':
      return 'a range';
    case 'context':
      return 'a group of named values';
    default:
      return plainWords[type.kind];
  }
}
