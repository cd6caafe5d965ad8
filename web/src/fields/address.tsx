import { HouseLineIcon } from '@phosphor-icons/react';
import { lazy } from 'react';
import { lazyInput } from './lazy-input.js';
import { noSettings, quotedText, type FieldKindView, type FieldOf } from './kind.js';

type AddressField = FieldOf<'address'>;

const Input = lazyInput<AddressField>(async () => (await import('./AddressInput.js')).AddressInput, 'address-input');
const AddressCell = lazy(async () => ({ default: (await import('./AddressInput.js')).AddressCell }));

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
