import { ArticleIcon } from '@phosphor-icons/react';
import { documentIn, printValue } from '@bibliona/core';
import { lazy, Suspense } from 'react';
import { locale } from '../state/locale.js';
import { Folded } from './Folded.js';
import { noSettings, quotedText, textOf, type FieldInputProps, type FieldKindView, type FieldOf } from './kind.js';
import { Output } from './Output.js';

type RichText = FieldOf<'rich_text'>;

const RichTextView = lazy(async () => ({ default: (await import('./RichTextView.js')).RichTextView }));
// The editor is larger than all the rest of a form.
const RichTextInput = lazy(async () => ({ default: (await import('./RichTextInput.js')).RichTextInput }));

/** In a row there is no room for it: it is read there, and written where the record is opened. */
function Input(props: FieldInputProps<RichText>) {
  const { field, value, isInRow } = props;
  const text = printValue(field, textOf(value), locale());
  if (isInRow)
    return (
      <Output field={field} isInRow none={text === '' ? 'written where the row is opened' : null}>
        {text.slice(0, 80)}
      </Output>
    );
  return (
    <Suspense fallback={<div className="rich-text-input waiting" />}>
      <RichTextInput {...props} />
    </Suspense>
  );
}

export const richText: FieldKindView<RichText> = {
  Icon: ArticleIcon,
  Input,
  CellEditor: null,
  Shown: ({ value }) => {
    const doc = documentIn(value);
    if (doc === null) return null;
    return (
      <Folded>
        <Suspense fallback={<div className="rich-text" />}>
          <RichTextView doc={doc} />
        </Suspense>
      </Folded>
    );
  },
  picture: 'bars',
  settings: noSettings,
  start: null,
  picks: () => [],
  hint: quotedText,
  canConvert: true,
};
