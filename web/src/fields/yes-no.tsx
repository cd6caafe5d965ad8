import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import FormHelperText from '@mui/material/FormHelperText';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { CheckSquareIcon } from '@phosphor-icons/react';
import { anExpression, named, noSettings, shared, type FieldInputProps, type FieldKindView, type FieldOf, type StartProps } from './kind.js';
import { PickCell } from './cells.js';
import { PickedStart } from './start.js';

/** A tick has two states and an empty field a third: a required field or one with a value is a tick, else words. */
function YesNo(props: FieldInputProps) {
  const { field, value, onChange, onBlur, problem, isInRow, inputRef } = props;
  if (typeof value === 'boolean' || field.required) {
    const tick = (
      <Checkbox
        checked={value === true}
        onChange={(_, checked) => onChange(checked)}
        onBlur={onBlur}
        slotProps={{ input: { ref: inputRef as never, ...(isInRow ? { 'aria-label': field.name } : {}) } }}
      />
    );
    if (isInRow) return tick;
    return (
      <div className="tick-field">
        <FormControlLabel control={tick} label={field.name} />
        {(problem ?? field.description) !== '' && <FormHelperText error={problem !== undefined}>{problem ?? field.description}</FormHelperText>}
      </div>
    );
  }
  return (
    <TextField
      {...shared(props)}
      select
      value=""
      onChange={(event) => onChange(event.target.value === 'yes' ? true : event.target.value === 'no' ? false : null)}
      slotProps={{ htmlInput: named(props) }}
    >
      <MenuItem value="">&nbsp;</MenuItem>
      <MenuItem value="yes">yes</MenuItem>
      <MenuItem value="no">no</MenuItem>
    </TextField>
  );
}

const answers = [
  ['yes', 'yes'],
  ['no', 'no'],
] as const;

export const yesNo: FieldKindView<FieldOf<'yes_no'>> = {
  Icon: CheckSquareIcon,
  Input: YesNo,
  CellEditor: (props) => (
    <PickCell
      {...props}
      options={[
        { value: true, label: 'yes' },
        { value: false, label: 'no' },
      ]}
    />
  ),
  picture: 'parts',
  settings: noSettings,
  start: { Input: (props: StartProps) => <PickedStart {...props} options={answers} />, computed: '' },
  picks: () => [
    { id: 'true', name: 'yes', expression: 'true' },
    { id: 'false', name: 'no', expression: 'false' },
  ],
  hint: anExpression,
  canConvert: true,
};
