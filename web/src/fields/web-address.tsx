import { GlobeSimpleIcon } from '@phosphor-icons/react';
import { noSettings, quotedText, type FieldInputProps, type FieldKindView, type FieldOf } from './kind.js';
import { TextCell } from './cells.js';
import { Line } from './line.js';
import { TypedStart } from './start.js';

export const webAddress: FieldKindView<FieldOf<'web_address'>> = {
  Icon: GlobeSimpleIcon,
  Input: (props: FieldInputProps<FieldOf<'web_address'>>) => <Line {...props} mode="url" />,
  CellEditor: TextCell,
  picture: 'bars',
  settings: noSettings,
  start: { Input: TypedStart, computed: '' },
  picks: () => [],
  hint: quotedText,
  canConvert: true,
};
