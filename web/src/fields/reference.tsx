import { LinkIcon } from '@phosphor-icons/react';
import { isReference, parentOf } from '@bibliona/core';
import { anExpression, settingsOf, type FieldInputProps, type FieldKindView, type FieldOf } from './kind.js';
import { ReferencePicker } from './ReferencePicker.js';

function Reference(props: FieldInputProps<FieldOf<'reference'>>) {
  const { field, value, onChange, onBlur, problem, isInRow, inputRef } = props;
  return (
    <ReferencePicker
      field={field}
      value={isReference(value) ? value : null}
      onChange={onChange}
      onBlur={onBlur}
      problem={problem}
      inputRef={inputRef}
      required={field.required && !isInRow}
      {...(isInRow ? {} : { label: field.name, hint: field.description === '' ? undefined : field.description })}
    />
  );
}

export const reference: FieldKindView<FieldOf<'reference'>> = {
  Icon: LinkIcon,
  Input: Reference,
  CellEditor: ({ field, value, text, onPick, onCancel }) => (
    <ReferencePicker field={field} value={isReference(value) ? value : null} autoOpen={{ text, onCancel }} onChange={onPick} />
  ),
  picture: 'bars',
  words: (field, design) => `to ${parentOf(design, field).name}`,
  // A reference comes and goes with its relationship, which has the rest of its settings.
  settings: settingsOf<string | undefined>({
    start: (field) => (field?.kind === 'reference' ? field.relationship : undefined),
    Editor: null,
    read: (relationship) => ({ ok: true, plan: { relationship } }),
  }),
  start: null,
  picks: () => [],
  hint: anExpression,
  canConvert: false,
};
