import { CalendarDotsIcon } from '@phosphor-icons/react';
import { noSettings, type FieldInputProps, type FieldKindView, type FieldOf, type StartProps } from './kind.js';
import { TextCell } from './cells.js';
import { Line } from './line.js';
import { PickedStart } from './start.js';

export const dateAndTime: FieldKindView<FieldOf<'date_and_time'>> = {
  Icon: CalendarDotsIcon,
  Input: (props: FieldInputProps<FieldOf<'date_and_time'>>) => <Line {...props} mode="text" />,
  CellEditor: TextCell,
  picture: 'bars',
  settings: noSettings,
  start: { Input: (props: StartProps) => <PickedStart {...props} options={[['now', 'the moment of adding']]} />, computed: 'now()', words: { now: 'now()' } },
  picks: () => [],
  hint: 'Such as now()',
  canConvert: true,
};
