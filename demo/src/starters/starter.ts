/** What a starter design is: an app that somebody could have built, with a few records to look at. */
import type { DesignChange, Write, WrittenValue } from '@bibliona/core';

export interface Starter {
  readonly name: string;
  /** What it is for, in one sentence. */
  readonly description: string;
  readonly design: readonly DesignChange[];
  /** A few made-up records. @param today in ISO: dates are told from it, so that lists of what is due have something in them */
  readonly records: (today: string) => readonly Write[];
}

/** A day so many days after another one, both in ISO. */
export const daysAfter = (day: string, days: number): string => new Date(Date.parse(day) + days * 86_400_000).toISOString().slice(0, 10);

/** Adds a record, which others of the same save name by `as`. */
export const add = (table: string, as: string, values: Readonly<Record<string, WrittenValue>>): Write => ({ kind: 'add', table, as, values });
