/**
 * What a kind of part of a design is: queries, reports, roles and the others. Each kind fills this interface in a file of
 * its own, and `kinds.ts` collects them. Checking, renaming, removal and "where is it used" follow from these tables alone.
 */
import type { z } from 'zod';
import type { AppDesignShape, PartName } from '../design/design.js';
import type { Page } from '../design/page.js';
import type { Wanted } from '../feel/wants.js';
import type { DesignIssue } from './issues.js';

/** A design of which it is not known yet whether it is whole. */
export type UncheckedDesign = z.infer<typeof AppDesignShape>;

/** What another part can name: a part, or something within one. */
export type TargetName = PartName | 'field';

export interface Reference {
  readonly to: TargetName;
  readonly id: string;
  /** The table that a field has to be of. */
  readonly table?: string;
}

/** One place with an expression in it. */
export interface ExpressionPlace {
  /** Tells the places of one part apart, before a change and after it. */
  readonly key: string;
  /** How the place is called in a sentence: "the default of Weight in Hives". */
  readonly label: string;
  readonly text: string;
  /** The table whose records it is about; null for what holds before there is a record. */
  readonly table: string | null;
  readonly wanted: Wanted;
  /** What is edited to fix it. */
  readonly owner: { readonly kind: TargetName; readonly id: string };
  /** The field that a label written out in quotes is a choice of. */
  readonly fills?: { readonly table: string; readonly field: string };
}

/** Gives the text that a place has to have; the same text leaves it alone. */
export type Write = (place: ExpressionPlace) => string;

/** What is being removed, with all that goes along. */
export interface Gone {
  readonly has: (to: TargetName, id: string) => boolean;
  /** Whether it is what the builder removes, rather than something that goes along. */
  readonly isAsked: (to: TargetName, id: string) => boolean;
}

/** Something else is made of what is to go. `by` is how that is called in a sentence. */
export interface Refuses {
  readonly by: string;
}

/** A member, as far as it decides which parts of a design their browser can know. */
export interface Onlooker {
  readonly holds: (role: string) => boolean;
  /** Whether a page is in their menu. */
  readonly opens: (page: Page) => boolean;
  /** Whether they can do anything with records of a table. */
  readonly reaches: (table: string) => boolean;
}

export interface PartKind<P> {
  /** What it is called on screen. */
  readonly word: string;
  /** What one is called in sentences, where parts of this kind have no name. */
  readonly called?: (part: P) => string;
  /** Names must be unique among parts with the same result. Null: names can repeat. */
  readonly uniqueWithin: ((part: P) => string) | null;
  /** Things within it that have ids of their own; `is`: what else names them by their id. */
  readonly inner: (part: P) => readonly { readonly id: string; readonly is?: 'field' }[];
  /** Where those ids must be unique: in the whole design, among parts of this kind, or within the part. */
  readonly innerIds: 'design' | 'kind' | 'part';
  /** What can be wrong with it, besides missing targets, names, ids and expressions. */
  readonly issues: (part: P, design: UncheckedDesign) => readonly DesignIssue[];
  readonly references: (part: P, design: UncheckedDesign) => readonly Reference[];
  /** What is left of it without what goes; the part itself when nothing of it does. */
  readonly without: (part: P, gone: Gone) => P | 'remove' | Refuses;
  /** The part for fewer records of a table: those that meet a further condition. Absent: it has no condition on records. */
  readonly narrowed?: (part: P, table: string, condition: string) => P;
  /** Walks its expressions: one walk lists, checks and renames them. The same part when no text changes. */
  readonly expressions: (part: P, design: UncheckedDesign, write: Write) => P;
  /**
   * What the browser of a member can know of it; null: not even that it is there. Settings that only the server uses are left
   * out here. Tables and fields out of sight, and expressions that name them, are taken out afterwards for every kind alike.
   */
  readonly toMember: (part: P, member: Onlooker) => P | null;
  /** Whether other parts decide what its expressions are called in sentences, or what type they need. */
  readonly expressionsReadOthers: boolean;
}

/** The list with each entry changed, the same list when none is. */
export function mapped<T>(parts: readonly T[], change: (part: T, i: number) => T): readonly T[] {
  const changed = parts.map(change);
  return changed.every((nonNullable, i) => nonNullable === parts[i]) ? parts : changed;
}

/** The list with the entries that stay, the same list when all do. */
export function staying<T>(parts: readonly T[], stays: (part: T) => boolean): readonly T[] {
  const left = parts.filter(stays);
  return left.length === parts.length ? parts : left;
}

/** The part with some of its settings replaced, the same part when they are the same already. */
export const withParts = <P extends object>(part: P, change: Partial<P>): P =>
  (Object.keys(change) as (keyof P)[]).every((name) => part[name] === change[name]) ? part : { ...part, ...change };

/** A condition and a further one; the first can be empty. */
const bothConditions = (condition: string, further: string): string => (condition === '' ? further : `${further} and (${condition})`);

/** A part with a further condition, where it is of that table. */
export const narrowedIfOf = <P extends { readonly table: string; readonly condition: string }>(part: P, table: string, further: string): P =>
  part.table === table ? { ...part, condition: bothConditions(part.condition, further) } : part;

/** An empty text is no expression. */
export const writtenUnlessEmpty = (write: Write, place: ExpressionPlace): string => (place.text === '' ? '' : write(place));
