import { printValue, type Field, type RecordAnswer } from '@bibliona/core';
import { locale } from '../../state/locale.js';

/** What a list shows of a field of a record. */
export const shownIn = (field: Field, record: RecordAnswer): string => printValue(field, record.values[field.id] ?? null, locale());
