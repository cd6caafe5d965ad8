/** A reference as read: which record, and its caption. Written back as its id alone. */
export interface ReferenceValue {
  readonly id: number;
  readonly caption: string;
}

/**
 * A value of a field. Text, long text, choice (its id), date (ISO) and decimal (canonical digits, never a float) are
 * strings; whole numbers are numbers within ±(2^53 - 1); yes/no is a boolean; null is empty.
 */
export type Value = string | number | boolean | ReferenceValue | null;

/** A value as a form holds it while it is edited: mostly the text as typed. */
export type Typed = string | boolean | ReferenceValue | null;

export type Parsed = { readonly ok: true; readonly value: Value } | { readonly ok: false; readonly problem: string };

export const good = (value: Value): Parsed => ({ ok: true, value });
export const bad = (problem: string): Parsed => ({ ok: false, problem });

/** Whether a value is a reference, and neither another object nor plain. */
export const isReference = (value: unknown): value is ReferenceValue => typeof value === 'object' && value !== null && 'caption' in value;

/** A value as it is written back: a reference as the id of its record. */
export const written = (value: Value): Exclude<Value, ReferenceValue> => (isReference(value) ? value.id : value);
