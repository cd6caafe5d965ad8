import { TextTIcon } from '@phosphor-icons/react';
import { quotedText, type FieldOf } from './kind.js';
import { lineView } from './line-view.js';

export const text = lineView<FieldOf<'text'>>(TextTIcon, quotedText);
