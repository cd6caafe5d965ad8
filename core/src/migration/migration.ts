/** What a migration consists of: steps of SQL, what to ask the data first, and what is set aside. */
import type { StoredField as Field } from '../design/design.js';
import type { Locale } from '../values/locale.js';
import type { StoredTable as Table } from './stored.js';

/** free: nothing in the data can hinder or suffer. look: existing data can refuse it. loses: values are set aside. */
export type Effect = 'free' | 'look' | 'loses';

/** A question to the data as it is before the migration. Its one row: how many, and a few of them as text. */
export interface Probe {
  readonly text: string;
  /** The table whose records it speaks of, in the design before: those that are told can be opened. */
  readonly table?: string;
  /** blocks: the step cannot be done while there is one. loses: they are set aside. fills: they get the default. */
  readonly meaning: 'blocks' | 'loses' | 'fills';
  readonly sentence: (count: number, samples: readonly string[], locale: Locale) => string;
}

export interface MigrationStep {
  readonly effect: Effect;
  readonly description: string;
  readonly sql: readonly string[];
  readonly probe: Probe | null;
  /** Indexes can wait until a table is filled, which is faster than filling a table that has them. */
  readonly isIndex: boolean;
}

/** What was set aside when a part went, under which name it lies in the schema for kept data. */
export type SetAside =
  | { readonly kind: 'table'; readonly name: string; readonly table: Table }
  | {
      readonly kind: 'field';
      readonly name: string;
      readonly tableId: string;
      readonly field: Field;
      /** Set when a conversion set it aside: what the values became. */ readonly became: Field | null;
      /** Beside each value lies, in the column `became`, the text of what it became. */ readonly tells?: true;
    };

export interface MigrationContext {
  readonly schema: string;
  readonly keptSchema: string;
  /** Ends the names of what this migration sets aside; differs from migration to migration. */
  readonly stamp: string;
  /** What earlier migrations set aside, the newest first. */
  readonly setAside: readonly SetAside[];
  /** The fields whose columns are there already, as `prepared.ts` makes them. */
  readonly prepared: ReadonlySet<string>;
}

export interface Migration {
  readonly steps: readonly MigrationStep[];
  readonly keeps: readonly SetAside[];
  readonly restores: readonly SetAside[];
  /** The tables whose records are written anew, each with all of its indexes. */
  readonly rewrites: readonly string[];
  /** The tables that get an index. */
  readonly indexed: readonly string[];
}
