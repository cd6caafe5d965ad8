import { UserIcon } from '@phosphor-icons/react';
import { meAsValue, personIn } from '@bibliona/core';
import { lazy, Suspense } from 'react';
import { noSettings, textOf, type FieldInputProps, type FieldKindView, type FieldOf } from './kind.js';
import { PickedStart } from './start.js';

type Person = FieldOf<'person'>;

// Few forms name people.
const PersonPicker = lazy(async () => ({ default: (await import('./PersonPicker.js')).PersonPicker }));

function Input(props: FieldInputProps<Person>) {
  const { field, value, onChange, onBlur, problem, isInRow, inputRef } = props;
  return (
    <Suspense fallback={<div className="worked-out-field" />}>
      <PersonPicker
        field={field}
        value={personIn(textOf(value))}
        onChange={onChange}
        onBlur={onBlur}
        problem={problem}
        inputRef={inputRef}
        required={field.required && !isInRow}
        {...(isInRow ? {} : { label: field.name, hint: field.description === '' ? undefined : field.description })}
      />
    </Suspense>
  );
}

const whoAdds = 'the person who adds it';

export const person: FieldKindView<Person> = {
  Icon: UserIcon,
  Input,
  CellEditor: ({ field, value, text, onPick, onCancel }) => (
    <PersonPicker field={field} value={personIn(textOf(value))} autoOpen={{ text, onCancel }} onChange={onPick} />
  ),
  picture: 'bars',
  settings: noSettings,
  start: { Input: (props) => <PickedStart {...props} options={[[whoAdds, whoAdds]]} />, computed: meAsValue, words: { [whoAdds]: meAsValue } },
  picks: () => [{ id: 'me', name: 'the person who does it', expression: meAsValue }],
  hint: 'Such as me.Mail',
  canConvert: false,
};
