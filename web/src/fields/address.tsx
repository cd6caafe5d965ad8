import { HouseLineIcon } from '@phosphor-icons/react';
import { lazy, Suspense } from 'react';
import { noSettings, quotedText, type FieldInputProps, type FieldKindView, type FieldOf } from './kind.js';

type AddressField = FieldOf<'address'>;

// Few forms have addresses.
const AddressInput = lazy(async () => ({ default: (await import('./AddressInput.js')).AddressInput }));
const AddressCell = lazy(async () => ({ default: (await import('./AddressInput.js')).AddressCell }));
const Input = (props: FieldInputProps<AddressField>) => (
  <Suspense fallback={<div className="address-input" />}>
    <AddressInput {...props} />
  </Suspense>
);

export const address: FieldKindView<AddressField> = {
  Icon: HouseLineIcon,
  Input,
  CellEditor: AddressCell,
  picture: 'bars',
  settings: noSettings,
  start: null,
  picks: () => [],
  hint: quotedText,
  canConvert: true,
};
