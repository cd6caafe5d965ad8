import { HashIcon } from '@phosphor-icons/react';
import { anExpression, type FieldOf } from './kind.js';
import { lineView } from './line-view.js';

export const whole = lineView<FieldOf<'whole'>>(HashIcon, anExpression, 'numeric');
