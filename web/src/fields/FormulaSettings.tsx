import { wants } from '@bibliona/core';
import { useApp } from '../state/app.js';
import { calculationExample } from '../workshop/expression/examples.js';
import { ExpressionEditor } from '../workshop/expression/ExpressionEditor.js';
import { DigitsInput } from './digits.js';
import type { FormulaSettings as Settings } from './formula.js';
import type { SettingsProps } from './kind.js';

export default function FormulaSettings({ settings, onChange, table, problem }: SettingsProps<Settings>) {
  const { design } = useApp();
  return (
    <>
      <ExpressionEditor
        label="Expression"
        value={settings.expression}
        onChange={(expression) => onChange({ ...settings, expression })}
        scope={{ design, table: table.id }}
        wanted={wants.plain}
        hint={`Fields of ${table.name}, combined with operators and functions, such as ${calculationExample(design, table.id) ?? 'today()'}.`}
        problem={problem?.at === 'expression' ? problem.text : undefined}
      />
      <DigitsInput value={settings.digits} hint="Empty: as many as needed." onChange={(digits) => onChange({ ...settings, digits })} problem={problem} />
    </>
  );
}
