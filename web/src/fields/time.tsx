import { ClockIcon } from '@phosphor-icons/react';
import { type FieldOf } from './kind.js';
import { lineView } from './line-view.js';

export const time = lineView<FieldOf<'time'>>(ClockIcon, 'Such as time(9, 30, 0)', 'text');
