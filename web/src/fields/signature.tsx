import { SignatureIcon } from '@phosphor-icons/react';
import { signatureIn } from '@bibliona/core';
import { lazyInput } from './lazy-input.js';
import { noSettings, quotedText, type FieldKindView, type FieldOf } from './kind.js';
import { SignatureView } from './SignatureView.js';

type Signed = FieldOf<'signature'>;

const Input = lazyInput<Signed>(async () => (await import('./SignatureInput.js')).SignatureInput, 'signature-input');

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
