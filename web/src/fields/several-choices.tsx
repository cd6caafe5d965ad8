import Autocomplete from '@mui/material/Autocomplete';
import Chip from '@mui/material/Chip';
import TextField from '@mui/material/TextField';
import { ListChecksIcon } from '@phosphor-icons/react';
import { idsAs, idsIn, type Choice } from '@bibliona/core';
import { pickerIcons } from '../ui/picker-icons.js';
import { choiceSettings, offered } from './choice.js';
import { ChosenLine, ToneMark } from './ChoiceMark.js';
import { named, quotedText, shared, type CellEditorProps, type FieldInputProps, type FieldKindView, type FieldOf } from './kind.js';

type Several = FieldOf<'several_choices'>;

function SeveralChoices(props: FieldInputProps<Several> & { readonly isOpen?: boolean }) {
  const { field, value, onChange, isOpen } = props;
  const ids = idsIn(value);
  const { inputRef, ...input } = shared(props);
  return (
    <Autocomplete<Choice, true>
      multiple
      options={offered(field.choices, ids)}
      value={field.choices.filter((choice) => ids.includes(choice.id))}
      getOptionLabel={(choice) => choice.label}
      isOptionEqualToValue={(each, other) => each.id === other.id}
      onChange={(_, chosen) =>
        onChange(
          idsAs(
            chosen.map((choice) => choice.id),
            field,
          ) ?? '',
        )
      }
      onBlur={props.onBlur}
      disableCloseOnSelect
      openOnFocus={isOpen === true}
      autoHighlight
      noOptionsText="No such choice."
      renderOption={({ key, ...item }, choice) => (
        <li key={key} {...item}>
          <ToneMark tone={choice.tone} />
          {choice.label}
        </li>
      )}
      renderValue={(chosen, itemProps) =>
        chosen.map((choice, index) => {
          const { key, ...item } = itemProps({ index });
          return (
            <Chip
              key={key}
              {...item}
              {...pickerIcons.slotProps.chip}
              label={
                <>
                  <ToneMark tone={choice.tone} />
                  {choice.label}
                </>
              }
            />
          );
        })
      }
      {...pickerIcons}
      className="several"
      renderInput={(params) => (
        <TextField
          {...params}
          {...input}
          inputRef={inputRef}
          autoFocus={isOpen === true}
          slotProps={{ ...params.slotProps, htmlInput: { ...params.slotProps.htmlInput, ...named(props) } }}
        />
      )}
    />
  );
}

/** In a cell the choices stay open until one leaves it. */
function SeveralCell({ field, value, onChange }: CellEditorProps<Several>) {
  return (
    <SeveralChoices
      field={field}
      name={field.id}
      value={value}
      onChange={onChange}
      onBlur={() => undefined}
      problem={undefined}
      isInRow
      inputRef={null}
      isOpen
    />
  );
}

export const severalChoices: FieldKindView<Several> = {
  Icon: ListChecksIcon,
  Input: SeveralChoices,
  Shown: ChosenLine,
  CellEditor: SeveralCell,
  picture: 'bars',
  words: (field) => `several of ${field.choices.length} choices`,
  settings: choiceSettings(),
  start: null,
  picks: () => [],
  hint: quotedText,
  canConvert: true,
};
