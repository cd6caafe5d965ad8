import { TextTIcon } from '@phosphor-icons/react';
import { noSettings, quotedText, textCell, type FieldKindView, type FieldOf } from './kind.js';
import { Line } from './line.js';
import { TypedStart } from './start.js';

export const text: FieldKindView<FieldOf<'text'>> = {
  Icon: TextTIcon,
  Input: Line,
  cellEditor: textCell,
  picture: 'bars',
  settings: noSettings,
  start: { Input: TypedStart, computed: '' },
  picks: () => [],
  hint: quotedText,
  canConvert: true,
};
