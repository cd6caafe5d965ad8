/** The countries of the world by their codes (ISO 3166-1 alpha-2), and how they are called. */
const codes =
  'ADAEAFAGAIALAMAOARASATAUAWAXAZBABBBDBEBFBGBHBIBJBLBMBNBOBQBRBSBTBWBYBZCACCCDCFCGCHCICKCLCMCNCOCRCUCVCWCXCYCZDEDJDKDMDODZECEE' +
  'EGEHERESETFIFJFKFMFOFRGAGBGDGEGFGGGHGIGLGMGNGPGQGRGTGUGWGYHKHNHRHTHUIDIEILIMINIOIQIRISITJEJMJOJPKEKGKHKIKMKNKPKRKWKYKZLALBLC' +
  'LILKLRLSLTLULVLYMAMCMDMEMFMGMHMKMLMMMNMOMPMQMRMSMTMUMVMWMXMYMZNANCNENFNGNINLNONPNRNUNZOMPAPEPFPGPHPKPLPMPRPSPTPWPYQARERORSRU' +
  'RWSASBSCSDSESGSHSISJSKSLSMSNSOSRSSSTSVSXSYSZTCTDTGTHTJTKTLTMTNTOTRTTTVTWTZUAUGUSUYUZVAVCVEVGVIVNVUWFWSYEYTZAZMZWGB';
export const countryCodes: readonly string[] = codes.match(/../gu) ?? [];

// Made when a country is named, which takes a first screen's time for nothing otherwise.
let names: Intl.DisplayNames | null = null;
/** "Germany" for "DE". */
export const countryName = (code: string): string => (names ??= new Intl.DisplayNames(['en'], { type: 'region' })).of(code) ?? code;

let byName: ReadonlyMap<string, string> | null = null;
/** The name of the country that a text is, written as names are here: "Germany" for "germany"; null when it is none. */
export const countryCalled = (text: string): string | null =>
  (byName ??= new Map(countryCodes.map((code) => [countryName(code).toLowerCase(), countryName(code)]))).get(text.trim().toLowerCase()) ?? null;

/** The country of a region: "DE" for "de-DE". */
export const countryOf = (region: string): string => region.split('-')[1] ?? 'GB';
