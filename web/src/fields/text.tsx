import { TextTIcon } from '@phosphor-icons/react';
import { noSettings, quotedText, type FieldKindView, type FieldOf } from './kind.js';
import { TextCell } from './cells.js';
import { Line } from './line.js';
import { TypedStart } from './start.js';

export const text: FieldKindView<FieldOf<'text'>> = {
  Icon: TextTIcon,
  Input: Line,
  CellEditor: TextCell,
  picture: 'bars',
  settings: noSettings,
  start: { Input: TypedStart, computed: '' },
  picks: () => [],
  hint: quotedText,
  canConvert: true,
};
