import type { Typed } from '@bibliona/core';
import type { RecordDraft, ReferredDraft } from './draft.js';

export interface FormRow {
  key: string;
  id: number | null;
  rev: number;
  values: Record<string, Typed>;
  begun?: Record<string, Typed>;
  cut?: readonly string[];
}
/** The values of the form library: a draft, whose rows it can rearrange. */
export interface FormValues {
  own: Record<string, Typed>;
  children: Record<string, FormRow[]>;
  /** Replaced as a whole with each change. */
  referred?: Readonly<Record<string, ReferredDraft>>;
}
/** With a place for what is changed of others, so that a form in which it was changed back is as it was. */
export const beginning = (start: RecordDraft): FormValues => ({ ...(start as unknown as FormValues), referred: {} });
