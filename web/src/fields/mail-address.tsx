import { EnvelopeSimpleIcon } from '@phosphor-icons/react';
import { quotedText, type FieldOf } from './kind.js';
import { lineView } from './line-view.js';

export const mailAddress = lineView<FieldOf<'mail_address'>>(EnvelopeSimpleIcon, quotedText, 'email');
