/**
 * Phone numbers of all countries. What is known of them is large, so that it is loaded only where a field holds some: until
 * then a number is read when it is written with its country, and printed as it is stored.
 */
import type * as Library from 'libphonenumber-js/min';
import { countryCodes } from './countries.js';

type Known = Pick<typeof Library, 'parsePhoneNumberFromString' | 'getCountryCallingCode' | 'getExampleNumber'> & { readonly examples: Library.Examples };
let known: Known | null = null;
export async function loadPhones(): Promise<void> {
  if (known !== null) return;
  const [library, examples] = await Promise.all([import('libphonenumber-js/min'), import('libphonenumber-js/mobile/examples')]);
  known = { ...library, examples: examples.default };
}

/** As phone numbers are stored: E.164 (ITU-T), and an extension as RFC 3966 writes it. */
export const storedPhone = /^\+[1-9]\d{6,14}(?:;ext=\d{1,8})?$/u;

/** A number as it is stored; null where the text is none. @param country where it is dialled when it names none */
export function readPhone(typed: string, country: string): string | null {
  const text = typed.trim().replace(/^tel:/iu, '');
  if (storedPhone.test(text)) return text;
  if (known === null) {
    const digits = text.replace(/[\s()./-]/gu, '').replace(/^00/u, '+');
    return storedPhone.test(digits) ? digits : null;
  }
  const code = countryCodes.includes(country) ? (country as Library.CountryCode) : undefined;
  // How calls abroad begin differs; most of the world writes 00.
  const number = known.parsePhoneNumberFromString(
    text.replace(/^00(?=[1-9])/u, '+'),
    code === undefined ? { extract: false } : { defaultCountry: code, extract: false },
  );
  return number?.isPossible() === true ? `${number.number}${number.ext === undefined ? '' : `;ext=${number.ext}`}` : null;
}

/** A stored number with its digits in groups, as one dials it from abroad: "+44 20 7946 0018". */
export function printPhone(stored: string): string {
  const [number = '', extension] = stored.split(';ext=');
  const spaced = known?.parsePhoneNumberFromString(number)?.formatInternational() ?? number;
  return extension === undefined ? spaced : `${spaced} ext. ${extension}`;
}

/** How a number is written within a country and from abroad, as an example: "020 7946 0018 or +44 20 7946 0018". */
export function examplePhone(country: string): string {
  const example = country === 'GB' ? undefined : known?.getExampleNumber(country as Library.CountryCode, known.examples);
  if (example === undefined) return country === 'GB' ? '020 7946 0018 or +44 20 7946 0018' : '+44 20 7946 0018';
  return `${example.formatNational()} or ${example.formatInternational()}`;
}

/** The code that is dialled before the numbers of a country, without the plus: "44". */
export function callingCode(country: string): string {
  if (known === null) throw new Error('Phone numbers are not loaded');
  return known.getCountryCallingCode(country as Library.CountryCode);
}
