import TextField from '@mui/material/TextField';
import { TextAlignLeftIcon } from '@phosphor-icons/react';
import { named, noSettings, quotedText, shared, textOf, type FieldInputProps, type FieldKindView, type FieldOf } from './kind.js';
import { TextCell } from './cells.js';
import { Folded } from './Folded.js';
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
      slotProps={{
        // It grows with its text by its style: measuring it by script made a form appear later and each key slower.
        input: { inputComponent: 'textarea' },
        htmlInput: { ...named(props), className: 'growing', rows: props.isInRow ? 1 : 2 },
      }}
    />
  );
}

export const longText: FieldKindView<FieldOf<'long_text'>> = {
  Icon: TextAlignLeftIcon,
  Input: Lines,
  CellEditor: TextCell,
  Shown: ({ value }) => (
    <Folded>
      <div className="plain-lines">{String(value)}</div>
    </Folded>
  ),
  picture: 'bars',
  settings: noSettings,
  start: { Input: TypedStart, computed: '' },
  picks: () => [],
  hint: quotedText,
  canConvert: true,
};
