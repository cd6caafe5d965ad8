import { EnvelopeSimpleIcon } from '@phosphor-icons/react';
import { noSettings, quotedText, type FieldInputProps, type FieldKindView, type FieldOf } from './kind.js';
import { TextCell } from './cells.js';
import { Line } from './line.js';
import { TypedStart } from './start.js';

export const mailAddress: FieldKindView<FieldOf<'mail_address'>> = {
  Icon: EnvelopeSimpleIcon,
  Input: (props: FieldInputProps<FieldOf<'mail_address'>>) => <Line {...props} mode="email" />,
  CellEditor: TextCell,
  picture: 'bars',
  settings: noSettings,
  start: { Input: TypedStart, computed: '' },
  picks: () => [],
  hint: quotedText,
  canConvert: true,
};
