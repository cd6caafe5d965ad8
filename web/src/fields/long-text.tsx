import TextField from '@mui/material/TextField';
import { TextAlignLeftIcon } from '@phosphor-icons/react';
import { named, noSettings, quotedText, shared, textOf, type FieldInputProps, type FieldKindView, type FieldOf } from './kind.js';
import { TextCell } from './cells.js';
import { TypedStart } from './start.js';
import { useTyped } from './typed.js';

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

export const longText: FieldKindView<FieldOf<'long_text'>> = {
  Icon: TextAlignLeftIcon,
  Input: Lines,
  CellEditor: TextCell,
  picture: 'bars',
  settings: noSettings,
  start: { Input: TypedStart, computed: '' },
  picks: () => [],
  hint: quotedText,
  canConvert: true,
};
