import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { check, currencyOf, unitOf, wants, type Scope, type Unit } from '@bibliona/core';
import { useApp } from '../state/app.js';
import { locale } from '../state/locale.js';
import { calculationExample } from '../workshop/expression/examples.js';
import { ExpressionEditor } from '../workshop/expression/ExpressionEditor.js';
import { CurrencyInput } from './CurrencyInput.js';
import { DigitsInput } from './digits.js';
import type { FormulaSettings as Settings } from './formula.js';
import type { SettingsProps } from './kind.js';

const isMoney = (unit: Unit | null): unit is string => unit !== null && unit !== '%';
/** What the numbers of an expression count, as far as it can be read; else what they counted before. */
function unitOfText(expression: string, scope: Scope, before: Unit | null): Unit | null {
  const checked = check(expression, scope);
  return checked.ok ? unitOf(checked.node) : before;
}

export default function FormulaSettings({ settings, onChange, table, problem }: SettingsProps<Settings>) {
  const { design } = useApp();
  const scope = { design, table: table.id };
  const { unit } = settings;
  const choose = (chosen: Unit | null): void => onChange({ ...settings, unit: chosen, isUnitChosen: true });
  return (
    <>
      <ExpressionEditor
        label="Expression"
        value={settings.expression}
        onChange={(expression) => onChange({ ...settings, expression, unit: settings.isUnitChosen ? unit : unitOfText(expression, scope, unit) })}
        scope={scope}
        wanted={wants.plain}
        hint={`Fields of ${table.name}, combined with operators and functions, such as ${calculationExample(design, table.id) ?? 'today()'}.`}
        problem={problem?.at === 'expression' ? problem.text : undefined}
      />
      <TextField
        select
        label="Numbers are"
        value={isMoney(unit) ? 'money' : (unit ?? 'plain')}
        onChange={({ target: { value } }) => choose(value === 'plain' ? null : value === 'money' ? currencyOf(locale().region) : '%')}
      >
        <MenuItem value="plain">plain numbers</MenuItem>
        <MenuItem value="%">percent: 0.125 is 12.5%</MenuItem>
        <MenuItem value="money">money</MenuItem>
      </TextField>
      {isMoney(unit) && <CurrencyInput label="Currency" value={unit} onChange={choose} />}
      <DigitsInput value={settings.digits} hint="Empty: as many as needed." onChange={(digits) => onChange({ ...settings, digits })} problem={problem} />
    </>
  );
}
