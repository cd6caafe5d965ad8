import { isReference, printTyped, type ResultColumn, type Value } from '@bibliona/core';
import { locale } from '../../state/locale.js';

/** A value of a column as it is shown; an empty one is no words. */
export const wordsIn = (column: ResultColumn, value: Value): string =>
  value === null ? '' : isReference(value) ? value.caption : printTyped(column, value, locale());
