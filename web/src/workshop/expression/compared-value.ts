/** The value that a condition compares with, as it is typed and as the condition holds it. */
import { parseValue, typedValue, type FieldPlan, type Parsed } from '@bibliona/core';
import { locale } from '../../state/locale.js';

/** A percent is typed as 12 and compared as 0.12. */
export type ComparedKind = 'text' | 'decimal' | 'percent' | 'whole' | 'date';

// Fields of any number of decimal places are compared, and none is shown that nobody typed.
const plan = (kind: ComparedKind, digits: number): FieldPlan => ({ kind, digits }) as FieldPlan;

export const typedCompared = (kind: ComparedKind, value: string): string => (value === '' ? '' : String(typedValue(plan(kind, 0), value, locale())));
export const readCompared = (kind: ComparedKind, typed: string): Parsed => parseValue(plan(kind, kind === 'percent' ? 10 : 12), typed, locale());
