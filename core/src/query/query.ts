/** A question to the records of one table, as a value. Nothing here knows SQL or people. */
import { z } from 'zod';
import type { Sort } from '../design/list.js';
import type { Circumstances } from '../expression/bring.js';
import type { Node } from '../expression/node.js';
import type { Value } from '../fields/value.js';
import { Id } from '../shapes/shapes.js';

export const Scalar = z.union([z.string().max(10_000), z.number().finite(), z.boolean(), z.null()]);

/** A day of the calendar; PostgreSQL has no year 0. */
export const Day = z.iso.date().refine((day) => day >= '0001');
/** A filter that is chosen while one uses a list: some values of a field (a record by its id, a month by its first day), or the days from one up to the day before another. */
export const Narrowing = z.union([z.object({ field: Id, values: z.array(Scalar).min(1).max(100) }), z.object({ field: Id, from: Day, before: Day })]);
export type Narrowing = z.infer<typeof Narrowing>;

export type Condition =
  | { readonly kind: 'all'; readonly of: readonly Condition[] }
  | { readonly kind: 'any'; readonly of: readonly Condition[] }
  | { readonly kind: 'equals'; readonly field: string; readonly value: string | number | boolean | null }
  /** A reference to one of these records. */
  | { readonly kind: 'refers_to'; readonly field: string; readonly ids: readonly number[] }
  /** An expression over the record that is true of it. */
  | { readonly kind: 'meets'; readonly condition: Node }
  /** The same, asked of the record as it is, no matter who asks: what is told is only whether it meets a rule. */
  | { readonly kind: 'rule'; readonly condition: Node }
  /** Records of which an expression gives this value, as it travels. */
  | { readonly kind: 'gives'; readonly node: Node; readonly value: Value }
  /** Records of whose children, by the relationship, some have these ids, or were added by the transaction that asks. */
  | { readonly kind: 'parents_of'; readonly relationship: string; readonly ids: readonly number[] | 'just_added' }
  /** Added by the transaction that asks. */
  | { readonly kind: 'just_added' }
  /** Added by a person, named by their id. */
  | { readonly kind: 'added_by'; readonly person: number }
  | { readonly kind: 'ids'; readonly ids: readonly number[] }
  /** Every word of the text stands somewhere in the record's words or in those of a record it refers to. */
  | { readonly kind: 'search'; readonly text: string };

/** Where a page ended: the values it was sorted by and the id, which together name one place in the order. */
export const Cursor = z
  .object({ value: Scalar, /** Of further orders. */ then: z.array(Scalar).max(8).readonly().optional(), id: z.number().int() })
  .readonly();
export type Cursor = z.infer<typeof Cursor>;

export interface Query extends Question {
  /** The fields wanted of each record. */
  readonly columns: readonly string[];
  /** Null: by id, the oldest first. The id always decides between equals, so that the order is total. */
  readonly sort: Sort | null;
  /** What decides between records that are equal by it, before the id does. */
  readonly then: readonly Sort[];
  /** `backwards` walks the same order from its end, as "previous" does. */
  readonly backwards: boolean;
  readonly after: Cursor | null;
  readonly limit: number;
  /** Texts are cut after so many characters and one more, which tells that they are longer; null: never. */
  readonly longest: number | null;
}

export const everything: Condition = { kind: 'all', of: [] };

export const queryOf = (table: string, parts: Partial<Omit<Query, 'table'>> = {}): Query => ({
  table,
  columns: [],
  where: everything,
  sort: null,
  then: [],
  backwards: false,
  after: null,
  limit: 100,
  longest: null,
  ...parts,
});

/** What every question has, whatever it asks of the records. */
export interface Question {
  readonly table: string;
  readonly where: Condition;
}

/** The part of a table that someone can reach. No grant at all is an empty list: nothing. */
export type Sight =
  | { readonly kind: 'all' }
  | {
      readonly kind: 'granted';
      /** A record is open when it meets one of them; a field of it when one that it meets does not withhold the field. */
      readonly grants: readonly { readonly condition: Node | null; readonly withheld: ReadonlySet<string> }[];
    };

declare const restricted: unique symbol;
/** A query with what its person can see of every table it touches. Only `restrict` in access makes one. */
export interface RestrictedQuery<Asked extends Question = Query> {
  readonly query: Asked;
  /** Which records of a table may be seen, and which of their fields: asked for each table reference in the statement. */
  readonly sightIn: (table: string) => Sight;
  /** Who asks, when and where: what expressions can speak of besides the records. */
  readonly around: Circumstances;
  /** The same for the conditions of grants: of the person who will read it. */
  readonly grantsAround: Circumstances;
  readonly [restricted]: true;
}
