import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import { ListNumbersIcon } from '@phosphor-icons/react';
import { writtenNumber } from '@bibliona/core';
import { readWhole } from './digits.js';
import { Output } from './Output.js';
import { quotedText, settingsOf, textOf, type FieldInputProps, type FieldKindView, type FieldOf, type SettingsProps } from './kind.js';

/** What the database gave, or will give. */
function Given({ field, value, isInRow, problem }: FieldInputProps<FieldOf<'running_number'>>) {
  const text = textOf(value);
  return (
    <Output
      field={field}
      isInRow={isInRow}
      none={text === '' ? 'given when saved' : null}
      note={problem !== undefined && <span className="field-problem">{problem}</span>}
    >
      {text}
    </Output>
  );
}

/** As typed. */
interface NumberSettings {
  readonly pattern: string;
  readonly start: string;
  readonly step: string;
  readonly yearly: boolean;
}

function Settings({ settings, onChange, problem }: SettingsProps<NumberSettings>) {
  const wrong = (at: keyof NumberSettings): string | undefined => (problem?.at === at ? problem.text : undefined);
  const [start, step] = [readWhole(settings.start, 0, 1_000_000_000), readWhole(settings.step, 1, 1000)];
  const year = new Date().getFullYear();
  const numbers = start === null || step === null ? [] : [0, 1, 2].map((n) => writtenNumber(settings, start + n * step, year));
  return (
    <>
      <TextField
        label="Pattern"
        value={settings.pattern}
        error={wrong('pattern') !== undefined}
        helperText={wrong('pattern') ?? (numbers.length === 0 ? 'Such as L-{year}-{0000}' : `${numbers.join(', ')} and so on. Such as L-{year}-{0000}`)}
        onChange={(event) => onChange({ ...settings, pattern: event.target.value })}
      />
      <TextField
        label="First number"
        type="number"
        value={settings.start}
        error={wrong('start') !== undefined}
        helperText={wrong('start')}
        onChange={(event) => onChange({ ...settings, start: event.target.value })}
      />
      <TextField
        label="Step"
        type="number"
        value={settings.step}
        error={wrong('step') !== undefined}
        helperText={wrong('step')}
        onChange={(event) => onChange({ ...settings, step: event.target.value })}
      />
      <FormControlLabel
        control={<Checkbox checked={settings.yearly} onChange={(_, yearly) => onChange({ ...settings, yearly })} />}
        label="Begins again each year"
      />
    </>
  );
}

export const runningNumber: FieldKindView<FieldOf<'running_number'>> = {
  Icon: ListNumbersIcon,
  Input: Given,
  CellEditor: null,
  picture: 'bars',
  words: (field) => `running number ${field.pattern}`,
  settings: settingsOf<NumberSettings>({
    start: (field) =>
      field?.kind === 'running_number'
        ? { pattern: field.pattern, start: String(field.start), step: String(field.step), yearly: field.yearly }
        : { pattern: '{0}', start: '1', step: '1', yearly: false },
    Editor: Settings,
    read: (typed) => {
      const [start, step] = [readWhole(typed.start, 0, 1_000_000_000), readWhole(typed.step, 1, 1000)];
      if (typed.pattern.match(/\{0+\}/gu)?.length !== 1)
        return { ok: false, problem: { at: 'pattern', text: 'Write one place for the number, like {0} or {000}' } };
      if (start === null) return { ok: false, problem: { at: 'start', text: 'A whole number from 0 on' } };
      if (step === null) return { ok: false, problem: { at: 'step', text: 'A whole number from 1 to 1000' } };
      if (typed.yearly && !typed.pattern.includes('{year}'))
        return { ok: false, problem: { at: 'pattern', text: 'Write {year} into it: else two records would have the same number' } };
      return { ok: true, plan: { pattern: typed.pattern, start, step, yearly: typed.yearly } };
    },
  }),
  start: null,
  picks: () => [],
  hint: quotedText,
  canConvert: true,
};
