import TextField from '@mui/material/TextField';
import { addressAs, addressOf, addressParts, countryCodes, countryName, parseValue, printValue, readAddress, type Address } from '@bibliona/core';
import { useId, useState, type ClipboardEvent } from 'react';
import { locale } from '../state/locale.js';
import { FieldGroup } from './FieldGroup.js';
import { named, shared, textOf, type CellEditorProps, type FieldInputProps, type FieldOf } from './kind.js';
import { useTyped } from './typed.js';

type AddressField = FieldOf<'address'>;
type Part = keyof Address;

const inputs: Readonly<Record<Part, { readonly label: string; readonly autoComplete: string }>> = {
  street: { label: 'Street and number', autoComplete: 'street-address' },
  extra: { label: 'Second line', autoComplete: 'address-line2' },
  postcode: { label: 'Postcode', autoComplete: 'postal-code' },
  city: { label: 'City', autoComplete: 'address-level2' },
  region: { label: 'Region', autoComplete: 'address-level1' },
  country: { label: 'Country', autoComplete: 'country-name' },
};

/** The value with one part changed, as it is typed: blanks between words stay until it is saved. */
const withPart = (value: string, part: Part, text: string): string => {
  const address: Address = { ...addressOf(value), [part]: text };
  return addressParts.every((each) => address[each] === '') ? '' : addressParts.map((each) => address[each]).join('\n');
};

function Parts(props: FieldInputProps<AddressField>) {
  const { field, isInRow, onBlur, problem, inputRef, name } = props;
  const [typed, type, tell] = useTyped(textOf(props.value), props.onChange);
  const countries = useId();
  // A whole address that is pasted into the street fills all parts.
  const paste = (event: ClipboardEvent): void => {
    const text = event.clipboardData.getData('text').trim();
    if (!/[\n,;]/u.test(text) || typed !== '') return;
    const whole = addressAs(readAddress(text));
    if (whole === null) return;
    event.preventDefault();
    type(whole);
  };
  return (
    <FieldGroup field={field} isInRow={isInRow} problems={problem === undefined ? [] : [problem]} className="address-input" onBlur={() => (tell(), onBlur())}>
      <div className="address-parts">
        {addressParts.map((part, i) => (
          <TextField
            key={part}
            className={`of-${part}`}
            label={inputs[part].label}
            name={`${name}.${part}`}
            value={addressOf(typed)[part]}
            error={problem !== undefined && i === 0}
            {...(i === 0 ? { inputRef, onPaste: paste } : {})}
            onChange={(event) => type(withPart(typed, part, event.target.value))}
            slotProps={{ htmlInput: { autoComplete: inputs[part].autoComplete, ...(part === 'country' ? { list: countries } : {}) } }}
          />
        ))}
        <datalist id={countries}>
          {countryCodes.map((code) => (
            <option key={code} value={countryName(code)} />
          ))}
        </datalist>
      </div>
    </FieldGroup>
  );
}

/** In rows an address stands on one line, and its parts are found in what is typed. */
const asLine = (field: AddressField, value: string): string => {
  const read = parseValue(field, value, locale());
  return read.ok ? printValue(field, read.value, locale()) : value;
};

function OneLine(props: FieldInputProps<AddressField>) {
  const { field, onChange } = props;
  const [typed, type, tell] = useTyped(asLine(field, textOf(props.value)), onChange);
  return (
    <TextField
      {...shared(props)}
      value={typed}
      onChange={(event) => type(event.target.value)}
      onBlur={() => (tell(), props.onBlur())}
      autoComplete="off"
      slotProps={{ htmlInput: named(props) }}
    />
  );
}

export function AddressCell({ field, value, text, onChange }: CellEditorProps<AddressField>) {
  const [typed, setTyped] = useState(text ?? asLine(field, textOf(value)));
  return (
    <input
      autoFocus
      className="cell-input"
      aria-label={field.name}
      autoComplete="off"
      value={typed}
      onFocus={(event) => text === null && event.target.select()}
      onChange={(event) => {
        setTyped(event.target.value);
        onChange(event.target.value);
      }}
    />
  );
}

/** An address in its parts, or on one line where there is no room for them. */
export const AddressInput = (props: FieldInputProps<AddressField>) => (props.isInRow ? <OneLine {...props} /> : <Parts {...props} />);
