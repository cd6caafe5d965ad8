import { FunctionIcon } from '@phosphor-icons/react';
import type { Unit } from '@bibliona/core';
import { lazy } from 'react';
import { readDigits } from './digits.js';
import { anExpression, settingsOf, type FieldKindView, type FieldOf, type SettingsProps } from './kind.js';

export interface FormulaSettings {
  readonly expression: string;
  readonly digits: string;
  /** Null: a plain number. */
  readonly unit: Unit | null;
  /** Until it is chosen, the unit follows the expression. */
  readonly isUnitChosen: boolean;
}

// The editor of expressions is of the Workshop alone: the Desk never loads it.
const Editor = lazy<React.ComponentType<SettingsProps<FormulaSettings>>>(() => import('./FormulaSettings.js'));

export const formula: FieldKindView<FieldOf<'formula'>> = {
  Icon: FunctionIcon,
  // A formula has no input: its value is shown as it is computed.
  Input: () => null,
  CellEditor: null,
  picture: 'bars',
  settings: settingsOf<FormulaSettings>({
    start: (field) =>
      field?.kind === 'formula'
        ? { expression: field.expression, digits: String(field.digits ?? ''), unit: field.unit, isUnitChosen: true }
        : { expression: '', digits: '', unit: null, isUnitChosen: false },
    Editor,
    read: ({ expression, digits: typed, unit }) => {
      const digits = typed.trim() === '' ? null : readDigits(typed);
      if (typed.trim() !== '' && digits === null) return { ok: false, problem: { at: 'digits', text: 'A whole number from 0 to 12, or nothing' } };
      if (expression.trim() === '') return { ok: false, problem: { at: 'expression', text: 'Write a formula.' } };
      return { ok: true, plan: { expression, digits, unit } };
    },
  }),
  start: null,
  picks: () => [],
  hint: anExpression,
  canConvert: false,
};
