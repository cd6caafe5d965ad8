import { CurrencyCircleDollarIcon } from '@phosphor-icons/react';
import { currencyOf } from '@bibliona/core';
import { locale } from '../state/locale.js';
import { lineView } from './line-view.js';
import { CurrencySetting } from './money.js';
import { quotedText, settingsOf, type FieldOf } from './kind.js';

export const anyMoney = {
  ...lineView<FieldOf<'any_money'>>(CurrencyCircleDollarIcon, quotedText, 'text'),
  settings: settingsOf<string>({
    start: (field) => (field?.kind === 'any_money' || field?.kind === 'money' ? field.currency : currencyOf(locale().region)),
    Editor: (props) => <CurrencySetting {...props} label="Currency where none is written" />,
    read: (currency) => ({ ok: true, plan: { currency } }),
  }),
};
