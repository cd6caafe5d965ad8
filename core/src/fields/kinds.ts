/** All kinds of field. A new kind is a file beside this one, a row here, and a row of the same key in `web/src/fields`. */
import { z } from 'zod';
import { address } from './address.js';
import { anyMoney } from './any-money.js';
import { choice } from './choice.js';
import { date } from './date.js';
import { decimal } from './decimal.js';
import { duration } from './duration.js';
import { file, image } from './files.js';
import { formula } from './formula.js';
import type { FieldKind as Kind, FieldPart } from './kind.js';
import { mailAddress } from './mail-address.js';
import { money } from './money.js';
import { percent } from './percent.js';
import { dateAndTime } from './date-and-time.js';
import { person } from './person.js';
import { phone } from './phone.js';
import { place } from './place.js';
import { reference } from './reference.js';
import { richText } from './rich-text.js';
import { runningNumber } from './running-number.js';
import { severalChoices } from './several-choices.js';
import { signature } from './signature.js';
import { longText, text } from './text.js';
import { time } from './time.js';
import type { Locale } from '../values/locale.js';
import type { Parsed, Typed, Value } from './value.js';
import { webAddress } from './web-address.js';
import { whole } from './whole.js';
import { yesNo } from './yes-no.js';

export const fieldKinds = {
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
} as const;

export type FieldKind = keyof typeof fieldKinds;
type Plans = { readonly [K in FieldKind]: z.infer<(typeof fieldKinds)[K]['shape']> };
export type FieldPlan = Plans[FieldKind];
/** A kind must be registered under the name that its fields carry, and fill the whole interface. */
fieldKinds satisfies { readonly [K in FieldKind]: Kind<Extract<FieldPlan, { kind: K }>> };

export const fieldKindNames = Object.keys(fieldKinds) as readonly FieldKind[];

const shapes = Object.values(fieldKinds).map((kind) => kind.shape);
/** What a builder decides about a field; its column in the database is added when the field joins a table. */
export const FieldPlan = z.discriminatedUnion('kind', shapes as never) as unknown as z.ZodType<FieldPlan, z.input<(typeof fieldKinds)[FieldKind]['shape']>>;

/**
 * The kind that a new field of this name most likely is. The word that comes last tells ("Mail sent on" is a day), and of
 * two that end together the longer one.
 */
export function proposedKind(name: string): FieldKind {
  const met = fieldKindNames.flatMap((kind) => {
    const found = fieldKinds[kind].named?.exec(name);
    return found === null || found === undefined ? [] : [{ kind, end: found.index + found[0].length, length: found[0].length }];
  });
  return met.sort((each, other) => other.end - each.end || other.length - each.length)[0]?.kind ?? 'text';
}

/** The kind of a field, with functions that take the field itself. */
export const kindOf = <F extends FieldPlan>(field: F): Kind<F> => fieldKinds[field.kind] as unknown as Kind<F>;

/** Whether a value can be that of a second record too: what is unique or given by itself, files and signatures belong to one. */
export const canRepeat = ({ kind, unique }: { readonly kind: FieldKind; readonly unique: boolean }): boolean =>
  !unique && !('isGiven' in fieldKinds[kind]) && !('files' in fieldKinds[kind]) && !('stamp' in fieldKinds[kind]);

/** How the values of a kind are drawn on paper; absent where they are only words. */
export const drawnAs = (kind: FieldKind): Kind<FieldPlan>['drawn'] => (fieldKinds[kind] as unknown as Kind<FieldPlan>).drawn;

/** What expressions find behind the dot of a field, by name. */
export const partsOfField = (field: FieldPlan): Readonly<Record<string, FieldPart>> => kindOf(field).feel.parts ?? {};

const loadOf = (kind: FieldKind): (() => Promise<void>) | undefined => (fieldKinds[kind] as { readonly load?: () => Promise<void> }).load;
/** The kinds of some fields whose values are read and printed with what has to be loaded first, each once. */
export const kindsToLoad = (fields: readonly FieldPlan[]): readonly FieldKind[] =>
  [...new Set(fields.map((field) => field.kind))].filter((kind) => loadOf(kind) !== undefined);
/** Loads what the values of these kinds are read and printed with. */
export async function loadKinds(kinds: readonly FieldKind[]): Promise<void> {
  await Promise.all(kinds.map(async (kind) => loadOf(kind)?.()));
}

/** How a field is written where one plain value is shown, such as in a column of a query. `name` as expressions write it. */
export const shownExpression = (field: FieldPlan, name: string): string => kindOf(field).feel.shownAs?.(name) ?? name;

export const printValue = (field: FieldPlan, value: Value, locale: Locale): string => kindOf(field).value.print(value, field, locale);
export const parseValue = (field: FieldPlan, typed: string, locale: Locale): Parsed => kindOf(field).value.parse(typed, field, locale);
export const typedValue = (field: FieldPlan, value: Value, locale: Locale): Typed => kindOf(field).value.typed(value, field, locale);
