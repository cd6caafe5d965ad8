/** How each kind of field is shown, entered and set up. A kind that core has and this table has not does not compile. */
import { fieldKinds, type AppDesign, type Field, type FieldKind } from '@bibliona/core';
import { address } from './address.js';
import { anyMoney } from './any-money.js';
import { choice } from './choice.js';
import { date } from './date.js';
import { dateAndTime } from './date-and-time.js';
import { decimal } from './decimal.js';
import { duration } from './duration.js';
import { file, image } from './files.js';
import { formula } from './formula.js';
import type { FieldKindView, FieldOf } from './kind.js';
import { longText } from './long-text.js';
import { mailAddress } from './mail-address.js';
import { money } from './money.js';
import { percent } from './percent.js';
import { person } from './person.js';
import { phone } from './phone.js';
import { place } from './place.js';
import { reference } from './reference.js';
import { richText } from './rich-text.js';
import { runningNumber } from './running-number.js';
import { severalChoices } from './several-choices.js';
import { signature } from './signature.js';
import { text } from './text.js';
import { time } from './time.js';
import { webAddress } from './web-address.js';
import { whole } from './whole.js';
import { yesNo } from './yes-no.js';

export const fieldViews = {
  text,
  long_text: longText,
  rich_text: richText,
  whole,
  decimal,
  money,
  any_money: anyMoney,
  percent,
  date,
  time,
  date_and_time: dateAndTime,
  duration,
  yes_no: yesNo,
  choice,
  several_choices: severalChoices,
  mail_address: mailAddress,
  web_address: webAddress,
  phone,
  address,
  place,
  running_number: runningNumber,
  file,
  image,
  signature,
  person,
  reference,
  formula,
} satisfies { readonly [K in FieldKind]: FieldKindView<FieldOf<K>> };

/** How a field is shown, with functions that take the field itself. */
export const viewOf = <F extends Field>(field: F): FieldKindView<F> => fieldViews[field.kind] as unknown as FieldKindView<F>;

/** What a field is, in a word or two. */
export const wordsOf = (field: Field, design: AppDesign): string => viewOf(field).words?.(field, design) ?? fieldKinds[field.kind].word.toLowerCase();
