import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import FormHelperText from '@mui/material/FormHelperText';
import IconButton from '@mui/material/IconButton';
import InputAdornment from '@mui/material/InputAdornment';
import MenuItem from '@mui/material/MenuItem';
import Popover from '@mui/material/Popover';
import TextField from '@mui/material/TextField';
import { DateCalendar } from '@mui/x-date-pickers/DateCalendar';
import { CalendarBlankIcon } from '@phosphor-icons/react';
import { kinds, parseValue, printDate, type Field, type FieldKind } from '@bibliona/core';
import { DateTime } from 'luxon';
import { useState, type ComponentType, type Ref } from 'react';
import { ReferencePicker } from './ReferencePicker.js';
import type { Typed } from './draft.js';
import { useTyped } from './typed.js';

export interface FieldInputProps {
  readonly field: Field;
  /** Its place in the form. */
  readonly name: string;
  readonly value: Typed;
  readonly onChange: (value: Typed) => void;
  readonly onBlur: () => void;
  readonly problem: string | undefined;
  /** In a row of a table the column's head is the label. */
  readonly isInRow: boolean;
  readonly inputRef: Ref<HTMLInputElement>;
}

const shared = ({ field, name, onBlur, problem, isInRow, inputRef }: FieldInputProps) => ({
  name,
  ...(isInRow ? { hiddenLabel: true } : { label: field.name }),
  required: field.required && !isInRow,
  error: problem !== undefined,
  helperText: problem ?? (isInRow || field.description === '' ? undefined : field.description),
  onBlur,
  inputRef,
});
const named = ({ field, isInRow }: FieldInputProps) => (isInRow ? { 'aria-label': field.name, 'aria-required': field.required } : {});
const textOf = (value: Typed): string => (typeof value === 'string' ? value : '');

function Line(props: FieldInputProps) {
  const right = kinds[props.field.kind].alignRight;
  const [typed, type, tell] = useTyped(textOf(props.value), props.onChange);
  return (
    <TextField
      {...shared(props)}
      value={typed}
      onChange={(event) => type(event.target.value)}
      onBlur={() => (tell(), props.onBlur())}
      autoComplete="off"
      slotProps={{ htmlInput: { ...named(props), ...(right ? { inputMode: props.field.kind === 'whole' ? 'numeric' : 'decimal', className: 'right' } : {}) } }}
    />
  );
}

function Lines(props: FieldInputProps) {
  const [typed, type, tell] = useTyped(textOf(props.value), props.onChange);
  return (
    <TextField
      {...shared(props)}
      value={typed}
      onChange={(event) => type(event.target.value)}
      onBlur={() => (tell(), props.onBlur())}
      multiline
      minRows={props.isInRow ? 1 : 2}
      maxRows={12}
      slotProps={{ htmlInput: named(props) }}
    />
  );
}

/** A date is typed in any usual way or picked from the calendar; left, it stands as dates are printed. */
function Day(props: FieldInputProps) {
  const { field, value, onChange, onBlur } = props;
  const [typed, type, tell] = useTyped(textOf(value), onChange);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const parsed = parseValue(field, typed);
  const picked = parsed.ok && typeof parsed.value === 'string' ? DateTime.fromISO(parsed.value) : null;
  return (
    <>
      <TextField
        {...shared(props)}
        value={typed}
        onChange={(event) => type(event.target.value)}
        autoComplete="off"
        onBlur={() => {
          tell();
          if (parsed.ok && typeof parsed.value === 'string') onChange(printDate(parsed.value));
          onBlur();
        }}
        slotProps={{
          htmlInput: named(props),
          input: {
            endAdornment: (
              <InputAdornment position="end">
                <IconButton aria-label={`Calendar for ${field.name}`} tabIndex={-1} size="small" onClick={(event) => setAnchor(event.currentTarget)}>
                  <CalendarBlankIcon size={16} />
                </IconButton>
              </InputAdornment>
            ),
          },
        }}
      />
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
        transitionDuration={0}
      >
        <DateCalendar
          value={picked}
          autoFocus
          onChange={(day: DateTime | null) => {
            onChange(day === null ? '' : printDate(day.toISODate() ?? ''));
            setAnchor(null);
          }}
        />
      </Popover>
    </>
  );
}

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

function OneChoice(props: FieldInputProps) {
  const { field, value, onChange } = props;
  const choices = field.kind === 'choice' ? field.choices : [];
  const isKnown = choices.some((choice) => choice.id === value);
  return (
    <TextField
      {...shared(props)}
      select
      value={textOf(value)}
      onChange={(event) => onChange(event.target.value)}
      slotProps={{ select: { SelectDisplayProps: props.isInRow ? { 'aria-label': field.name } : {} } }}
    >
      <MenuItem value="">&nbsp;</MenuItem>
      {!isKnown && textOf(value) !== '' && <MenuItem value={textOf(value)}>{textOf(value)}</MenuItem>}
      {choices.map((choice) => (
        <MenuItem key={choice.id} value={choice.id}>
          {choice.label}
        </MenuItem>
      ))}
    </TextField>
  );
}

function Reference(props: FieldInputProps) {
  const { field, value, onChange, onBlur, problem, isInRow, inputRef } = props;
  return (
    <ReferencePicker
      field={field}
      value={typeof value === 'object' ? value : null}
      onChange={onChange}
      onBlur={onBlur}
      problem={problem}
      inputRef={inputRef}
      required={field.required && !isInRow}
      {...(isInRow ? {} : { label: field.name, says: field.description === '' ? undefined : field.description })}
    />
  );
}

/** The input of each kind. A new kind does not compile until it has one. */
const inputs = {
  // A formula has no input: FormulaValue shows it.
  formula: () => null,
  text: Line,
  long_text: Lines,
  whole: Line,
  decimal: Line,
  date: Day,
  yes_no: YesNo,
  choice: OneChoice,
  reference: Reference,
} satisfies Record<FieldKind, ComponentType<FieldInputProps>>;

export function FieldInput(props: FieldInputProps) {
  const Input = inputs[props.field.kind];
  return <Input {...props} />;
}
