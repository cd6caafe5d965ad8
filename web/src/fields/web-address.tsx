import { GlobeSimpleIcon } from '@phosphor-icons/react';
import { quotedText, type FieldOf } from './kind.js';
import { lineView } from './line-view.js';

export const webAddress = lineView<FieldOf<'web_address'>>(GlobeSimpleIcon, quotedText, 'url');
