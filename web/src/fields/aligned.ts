import { kindOf, type Field } from '@bibliona/core';
import type { AppInHand } from '../state/app.js';

/** Whether values of the field are at the right, one above the other: numbers, those of formulas among them. */
export const isAlignedRight = (app: Pick<AppInHand, 'formulas'>, field: Field): boolean =>
  field.kind === 'formula' ? app.formulas[field.id] === 'number' : kindOf(field).traits.align === 'right';
