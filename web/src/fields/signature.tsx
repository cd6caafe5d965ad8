import { SignatureIcon } from '@phosphor-icons/react';
import { signatureIn } from '@bibliona/core';
import { lazy, Suspense } from 'react';
import { noSettings, quotedText, type FieldInputProps, type FieldKindView, type FieldOf } from './kind.js';
import { SignatureView } from './SignatureView.js';

type Signed = FieldOf<'signature'>;

// Few forms are signed.
const SignatureInput = lazy(async () => ({ default: (await import('./SignatureInput.js')).SignatureInput }));
const Input = (props: FieldInputProps<Signed>) => (
  <Suspense fallback={<div className="signature-input" />}>
    <SignatureInput {...props} />
  </Suspense>
);

export const signature: FieldKindView<Signed> = {
  Icon: SignatureIcon,
  Input,
  CellEditor: null,
  Shown: ({ value, field }) => {
    const signed = signatureIn(value);
    return signed === null ? null : <SignatureView signature={signed} name={field.name} />;
  },
  picture: 'bars',
  settings: noSettings,
  start: null,
  picks: () => [],
  hint: quotedText,
  canConvert: false,
};
