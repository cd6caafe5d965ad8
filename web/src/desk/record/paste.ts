import { parseValue, type Field, type Typed } from '@bibliona/core';
import { typedOf } from './draft.js';
import { locale } from '../../state/locale.js';

/** What a pasted text is in a field: its value where it fits, else the text itself, so that its error shows. */
export function typedFromText(field: Field, text: string): Typed {
  const parsed = parseValue(field, text.trim(), locale());
  if (parsed.ok) return typedOf(field, parsed.value);
  return typeof typedOf(field, null) === 'string' ? text : null;
}
