import { TimerIcon } from '@phosphor-icons/react';
import { type FieldOf } from './kind.js';
import { lineView } from './line-view.js';

export const duration = lineView<FieldOf<'duration'>>(TimerIcon, 'Such as duration("PT1H30M")', 'text');
