import { z } from 'zod';
import { literal } from '../sql/sql.js';
import { countryCodes, countryOf } from '../values/countries.js';
import { callingCode, examplePhone, loadPhones, printPhone, readPhone, storedPhone } from '../values/phones.js';
import { common, Default, type FieldKind } from './kind.js';
import { readText, textTraits } from './read-text.js';

const shape = z.object({
  kind: z.literal('phone'),
  ...common,
  /** Where numbers are dialled that are written without a country. */
  country: z.enum(countryCodes as [string, ...string[]], 'is no country').default('GB'),
  default: Default,
});
type Plan = z.infer<typeof shape>;

/** What is dialled within the country alone, before the number: mostly a zero, which Italy keeps. */
const trunk = (country: string): string => (/^(?:IT|SM|VA)$/u.test(country) ? '^(?!.)' : country === 'HU' ? '^06' : /^(?:RU|KZ)$/u.test(country) ? '^8' : '^0');

const reading = readText<Plan>({
  wanted: ({ country }) => `a phone number. Write it like ${examplePhone(country)}`,
  read: (typed, field) => readPhone(typed, field.country),
  isStored: (text) => storedPhone.test(text),
  print: printPhone,
  fromText: (text, field) => {
    const digits = `regexp_replace(regexp_replace(${text}, '[[:space:]()./-]', '', 'g'), '^00', '+')`;
    const whole = `CASE WHEN ${digits} LIKE '+%' THEN ${digits} ELSE ${literal(`+${callingCode(field.country)}`)} || regexp_replace(${digits}, ${literal(trunk(field.country))}, '') END`;
    return `substring((${whole}) COLLATE "C" FROM '^\\+[1-9][0-9]{6,14}(?:;ext=[0-9]{1,8})?$')`;
  },
});

/** A number that says which country it is of: without, it could be any code. */
const withCountry = /^(?:tel:)?\+[1-9]/iu;

/** Phone numbers, stored as they are dialled from anywhere. */
export const phone = {
  word: 'Phone number',
  description: 'dials when pressed',
  named: /\b(?:phone|telephone|tel|mobile|cell|fax)\b/iu,
  shape,
  traits: { ...textTraits, listWidth: 150, words: false },
  ...reading,
  cells: {
    ...reading.cells,
    settingsFor: ({ region }) => ({ country: countryOf(region) }),
    recognises: (text) => withCountry.test(text) && readPhone(text, '') !== null,
  },
  load: loadPhones,
  link: (value) => (typeof value === 'string' && storedPhone.test(value) ? `tel:${value}` : null),
  sample: {
    settings: [{}, { country: 'DE', unique: true }, { country: 'IT' }],
    values: (fc) =>
      fc
        .tuple(fc.constantFrom('+4420794600', '+4930123456', '+120155501', '+3906698200'), fc.integer({ min: 10, max: 99 }), fc.constantFrom('', ';ext=12'))
        .map(([start, end, extension]) => `${start}${end}${extension}`),
  },
} as const satisfies FieldKind<Plan>;
