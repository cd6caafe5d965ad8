import type { Icon } from '@phosphor-icons/react';
import type { Field } from '@bibliona/core';
import { TextCell } from './cells.js';
import { noSettings, type FieldInputProps, type FieldKindView } from './kind.js';
import { Line, type LineMode } from './line.js';
import { TypedStart } from './start.js';

/** The view of a kind whose values are typed in one line, and that has no settings of its own. */
export const lineView = <F extends Field>(icon: Icon, hint: string, mode?: LineMode): FieldKindView<F> => ({
  Icon: icon,
  Input: mode === undefined ? Line : (props: FieldInputProps<F>) => <Line {...props} mode={mode} />,
  CellEditor: TextCell,
  picture: 'bars',
  settings: noSettings,
  start: { Input: TypedStart, computed: '' },
  picks: () => [],
  hint,
  canConvert: true,
});
