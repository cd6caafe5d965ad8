/**
 * What a kind of field is. Each kind fills this interface in a file of its own, and `kinds.ts` collects them: forms, lists,
 * the database, expressions, imports and exports ask here instead of telling kinds apart.
 */
import type { Arbitrary, default as FastCheck } from 'fast-check';
import { z } from 'zod';
import type { Stored } from '../feel/stored.js';
import type { Type } from '../feel/types.js';
import type { Feel } from '../feel/value.js';
import type { Wanted } from '../feel/wants.js';
import { Description, Expression, Id, Label } from '../shapes/shapes.js';
import type { DateOrder } from '../values/dates.js';
import type { Locale } from '../values/locale.js';
import type { NumberStyle } from '../values/numbers.js';
import type { Region } from '../values/regions.js';
import type { Unit } from '../values/units.js';
import type { HeldFile } from './files.js';
import type { NamedPerson } from './person.js';
import type { Parsed, Typed, Value } from './value.js';

/** The settings that fields of all kinds have. */
export const common = {
  id: Id,
  name: Label,
  description: Description,
  /** Shown in the empty input. */
  placeholder: z.string().trim().max(120).optional(),
  required: z.boolean().default(false),
  unique: z.boolean().default(false),
  /** People can't change it after its record is saved. */
  fixed: z.literal(true).optional(),
  /** A form for a new record begins with what the person entered last. */
  startsWithLast: z.literal(true).optional(),
  /** It has an index of its own in the database. */
  indexed: z.literal(true).optional(),
  /** Of its column in lists and rows, in pixels, before a person makes it another; absent: as wide as what is in it. */
  listWidth: z.number().int().min(40).max(1200).optional(),
};
/** For kinds whose values can't be unique. */
export const neverUnique = { ...common, unique: z.literal(false).default(false) };
/** The value of a new record, as an expression; null: empty. */
export const Default = Expression.nullable().default(null);

/** What all plans of fields have in common, whatever their kind. */
export interface CommonPlan {
  readonly kind: string;
  readonly id: string;
  readonly name: string;
  readonly description: string;
  readonly placeholder?: string | undefined;
  readonly required: boolean;
  readonly unique: boolean;
  readonly fixed?: true | undefined;
  readonly startsWithLast?: true | undefined;
  readonly indexed?: true | undefined;
  readonly listWidth?: number | undefined;
  readonly default: string | null;
}

/** How the cells of one column of a file are read. */
export interface Reading {
  readonly numbers: NumberStyle;
  readonly dates: DateOrder;
  /** On whose clocks times are read; UTC where none is given. */
  readonly zone?: string;
}

/** What a column of a file is matched with, in lower case: records by caption, people by name and mail address; `null` where two share one. */
export type CaptionIndex = ReadonlyMap<string, number | string | null>;

export interface Misfit {
  readonly problem: string;
}

/** What decides on the settings of a new field for a column of a file. */
export interface ColumnOfFile {
  /** Decimal places of its numbers. */
  readonly digits: number;
  /** The unit beside its numbers; for a mark such as $, the most likely currency. Null: no unit, or several. */
  readonly unit: Unit | null;
  readonly choices: readonly string[];
  /** Of the app. */
  readonly region: Region;
}

/** Reads a filled cell. A string means that the cell fits, written as PostgreSQL reads the value. */
export type CellReader = (text: string) => string | Misfit;

/** A condition that the database holds every value of a column to. */
export interface ColumnRule {
  /** Ends the name of the constraint. */
  readonly name: string;
  /** SQL over the column. */
  readonly check: string;
  /** Why existing records could fail it; null when none can. */
  readonly reason: string | null;
}

/** How the values of one column become values of another kind. */
export interface Conversion {
  /** SQL over the old column, null where a value can't be converted. */
  readonly expression: string;
  /** Whether a value can be lost or changed: then the old values are kept aside. */
  readonly canLose: boolean;
}

export interface Column<F> {
  /** PostgreSQL's type. */
  readonly type: (field: F) => string;
  /** A value as SQL writes it. */
  readonly constant: (value: Value, field: F) => string;
  /** The SQL of a default value that changes from day to day, or null when only the product can work it out. */
  readonly computedDefault?: (expression: string) => string | null;
  readonly rules: (field: F, column: string) => readonly ColumnRule[];
  /** What records are sorted by, and its type in SQL. */
  readonly sortKey: (column: string, field: F) => string;
  readonly sortType: string;
  /** The value as it travels to screens: exact numbers and dates as text. */
  readonly sent: (column: string) => string;
  /** Set when a part of a value means nothing, so that none is ever shortened for a list. */
  readonly isWhole?: true;
  /** A long value with less in it, for where many are shown: at most so many characters of its text. */
  readonly shortened?: { readonly value: (value: string, most: number) => string; readonly sql: (column: string, most: number) => string };
  /** Set when the language sees the value otherwise than it is stored. */
  readonly stored?: (field: F) => Stored;
  /** Set when the database gives the value of each new record: pattern, first number, step, and `yearly` or nothing. */
  readonly numbered?: (field: F) => readonly [pattern: string, start: string, step: string, yearly: string];
  /** Set when expressions see a list: its elements as rows of a column, and an element as they see it. */
  readonly elements?: (field: F) => { readonly rows: (column: string) => string; readonly seen: (element: string) => string };
  /** What must differ where the field is unique, if not the value as it is stored: `anyCase`, whatever the case of its letters. */
  readonly differs?: (column: string, anyCase: boolean) => string;
  /** The value as text in its canonical form. */
  readonly asText: (column: string, field: F) => string;
  /** The value of a text, null where there is none. It never raises an error, whatever the text is. */
  readonly fromText: (text: string, field: F) => string;
  /** Set when its text says less than the value, so that no value becomes of another kind without a loss. */
  readonly saysLess?: true;
  /** Whether every text is a value, so that no conversion from text loses anything. */
  readonly takesEveryText: boolean;
  /**
   * How values become those of another field, if there is a better way than through text. Null: they stay as they are.
   * @param zone of the app
   */
  readonly conversions: (column: string, before: F, after: CommonPlan, zone: string) => Conversion | null | 'through text';
}

/** An issue of the design, as `parts/issues.ts` has it. */
export type SettingsProblem =
  | { readonly code: 'broken'; readonly problem: string }
  | { readonly code: 'name_taken'; readonly what: 'choice'; readonly name: string; readonly within: string };

/** Strokes of straight lines, as the path of an SVG in a box. */
export interface Drawing {
  readonly path: string;
  readonly width: number;
  readonly height: number;
}

/** A part of a value that has a name of its own in expressions: `Address.city`. */
export interface FieldPart {
  readonly type: Type;
  readonly from: (value: Exclude<Value, null>) => Feel;
  /** The part of a column, null where it is empty. */
  readonly sql: (column: string) => string;
}

export interface FieldKind<F extends CommonPlan> {
  readonly word: string;
  /** Completes the word where a kind is chosen. */
  readonly description: string;
  /** What fields of this kind are often called: a new field with such a name is proposed to be one. */
  readonly named: RegExp | null;
  /** The settings of a field of this kind. */
  readonly shape: z.ZodObject;
  readonly traits: {
    readonly align: 'left' | 'right';
    /** Columns that a new field takes in the form's grid of twelve. */
    readonly formWidth: 3 | 6 | 12;
    /** Width in pixels of a column in a list before it fits its content. */
    readonly listWidth: number;
    /** Least width in pixels of a column of child rows. */
    readonly rowWidth: number;
    readonly canBeUnique: boolean;
    /** Whether its values are short, and an index on them helps to filter and to sort. */
    readonly canBeIndexed: boolean;
    /** Whether a search in the list looks through it. */
    readonly searched: boolean;
    /** Whether a new field of this kind joins the list of its table. */
    readonly listed: boolean;
    /** Whether the first field of this kind becomes the caption of its table. */
    readonly caption: boolean;
    /** Whether its numbers are amounts that add up, which years and numbers of things mostly do not. */
    readonly addsUp: boolean;
    /** Whether its values are words in a file: a spreadsheet could calculate with them. */
    readonly words: boolean;
  };
  /** What can be wrong with its settings besides their shapes. */
  readonly problems?: (field: F) => readonly SettingsProblem[];
  /** Loads what its values are read and printed with, where that is too large to be loaded for everybody. */
  readonly load?: () => Promise<void>;
  /** Set when nobody enters its values. */
  readonly isGiven?: true;
  /** Digits after the decimal point that its numbers show; null: as many as there are, or it holds no numbers. */
  readonly digits: (field: F) => number | null;
  /** What its numbers count, if they count something: a share, money. */
  readonly unit?: (field: F) => Unit | null;
  readonly value: {
    /** Reads what a person typed or pasted. Empty text is null for every kind. */
    readonly parse: (text: string, field: F, locale: Locale) => Parsed;
    /** The value on screen and paper. */
    readonly print: (value: Value, field: F, locale: Locale) => string;
    /** The value as a form begins to edit it. */
    readonly typed: (value: Value, field: F, locale: Locale) => Typed;
    /** What is wrong with a value that arrives as JSON, or null. Null values are fine here: `required` is another matter. */
    readonly problem: (value: unknown, field: F) => string | null;
    /** The one form in which equal values are stored. */
    readonly normal: (value: Value, field: F) => Value;
    readonly same: (a: Value, b: Value) => boolean;
    /** The value in an exported file. */
    readonly exported: (value: Value, field: F) => Value;
  };
  readonly feel: {
    /** The type of its values in expressions; null when only an expression or a relationship tells. */
    readonly type: (field: F, table: string) => Type | null;
    /** @param parent the table that a reference points to */
    readonly from: (value: Exclude<Value, null>, field: F, parent: string) => Feel;
    /** What an empty field is in expressions, if not null. */
    readonly ofNothing?: Feel;
    /** How a value that is no plain one is written where one value is shown, such as in a column: by the name of the field. */
    readonly shownAs?: (name: string) => string;
    /** What is behind the dot of the field. */
    readonly parts?: Readonly<Record<string, FieldPart>>;
    /** A computed value as the field holds it; null when it can't. */
    readonly to: (computed: Exclude<Feel, null>, field: F) => Value;
    /** How the language writes a value: a default that was typed as a plain value. */
    readonly literal: (value: Exclude<Value, null>, field: F) => string;
    /** What a default has to be. */
    readonly wanted: Wanted;
  };
  /** Where pressing a value leads, outside of the app: an address that is safe to open. */
  readonly link?: (value: Value) => string | null;
  /** Set when its values name files, which are in the store of the server. */
  readonly files?: {
    readonly in: (value: unknown) => readonly HeldFile[];
    /** Which files it takes, by their endings; none: any. */
    readonly endings: (field: F) => readonly string[];
  };
  /** Set when its values are drawings, which paper shows above what is said of them. */
  readonly drawn?: { readonly drawing: (value: Value) => Drawing | null; readonly words: (value: Value, locale: Locale) => string };
  /** Set when its values name people of the app: the server asks who they are at each save. */
  readonly people?: (value: unknown) => NamedPerson | null;
  /** Set when the server writes into a new value who gave it and when (an instant in UTC, to the second). */
  readonly stamp?: (value: string, who: string, when: string) => string;
  /** Null: computed whenever it is shown, and stored nowhere. */
  readonly column: Column<F> | null;
  readonly cells: {
    /** Null: its values are never read from a file. */
    readonly reader: ((field: F, reading: Reading, captions: CaptionIndex | null) => CellReader) | null;
    /** Equal values of a unique field have equal keys, made of the value as PostgreSQL prints or reads it. */
    readonly key: (printed: string, field: F) => string;
    readonly value: (printed: string) => Exclude<Value, object>;
    /** Which way of reading a person can choose for a column; null: there is only one. */
    readonly reading: keyof Reading | null;
    /** The settings of a new field for a column of a file; null: a column can't become a field of this kind. */
    readonly settingsFor: ((column: ColumnOfFile) => object) | null;
    /** Set where texts have a form that tells them from all others: a column that has nothing else becomes a field of this kind by itself. */
    readonly recognises?: (text: string) => boolean;
  };
  /** For tests that hold every kind to the same promises: fields with different settings, and values that they can hold. */
  readonly sample: {
    readonly settings: readonly object[];
    readonly values: (fc: typeof FastCheck, field: F) => Arbitrary<Value>;
  };
}

/** Values compared as they are: for all kinds whose values are not objects. */
export const identical = (a: Value, b: Value): boolean => a === b;
export const asIs = (value: Value): Value => value;
export const textOrNothing = (value: Value): string => (value === null ? '' : String(value));
export const readsAlike = { key: (printed: string): string => printed, value: (printed: string): string => printed };
