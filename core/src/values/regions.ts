import { z } from 'zod';

/**
 * The regions whose ways of writing numbers and dates can be chosen, as BCP 47 language tags. All of them write with letters
 * that the fonts of screens and paper have.
 */
export const Region = z.enum(
  [
    'en-GB',
    'en-US',
    'en-AU',
    'en-CA',
    'en-IE',
    'en-IN',
    'en-NZ',
    'en-ZA',
    'bg-BG',
    'ca-ES',
    'cs-CZ',
    'da-DK',
    'de-AT',
    'de-CH',
    'de-DE',
    'el-GR',
    'es-AR',
    'es-ES',
    'es-MX',
    'et-EE',
    'eu-ES',
    'fi-FI',
    'fr-BE',
    'fr-CA',
    'fr-CH',
    'fr-FR',
    'hr-HR',
    'hu-HU',
    'is-IS',
    'it-CH',
    'it-IT',
    'lt-LT',
    'lv-LV',
    'nb-NO',
    'nl-BE',
    'nl-NL',
    'pl-PL',
    'pt-BR',
    'pt-PT',
    'ro-RO',
    'ru-RU',
    'sk-SK',
    'sl-SI',
    'sv-SE',
    'tr-TR',
    'uk-UA',
  ],
  'is not a region that can be chosen',
);
export type Region = z.infer<typeof Region>;
export const regions: readonly Region[] = Region.options;
export const defaultRegion: Region = 'en-GB';

// Made when a region is named, which takes a first screen's time for nothing otherwise.
let names: Intl.DisplayNames | null = null;
/** "German (Switzerland)" for "de-CH". */
export const regionName = (region: Region): string =>
  (names ??= new Intl.DisplayNames(['en'], { type: 'language', languageDisplay: 'standard' })).of(region) ?? region;

/** The region of the first of these language tags that is known: the whole tag, or else its language. */
export function regionOf(tags: readonly string[]): Region | null {
  for (const tag of tags) {
    const language = tag.split('-')[0]?.toLowerCase() ?? '';
    const found = regions.find((region) => region.toLowerCase() === tag.toLowerCase()) ?? regions.find((region) => region.startsWith(`${language}-`));
    if (found !== undefined) return found;
  }
  return null;
}
