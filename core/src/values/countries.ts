/** The countries of the world by their codes (ISO 3166-1 alpha-2), and how they are called. */
const codes =
  'AD AE AF AG AI AL AM AO AR AS AT AU AW AX AZ BA BB BD BE BF BG BH BI BJ BL BM BN BO BQ BR BS BT BW BY BZ CA CC CD CF CG CH CI CK CL CM CN CO CR CU CV CW CX CY CZ ' +
  'DE DJ DK DM DO DZ EC EE EG EH ER ES ET FI FJ FK FM FO FR GA GB GD GE GF GG GH GI GL GM GN GP GQ GR GT GU GW GY HK HN HR HT HU ID IE IL IM IN IO IQ IR IS IT ' +
  'JE JM JO JP KE KG KH KI KM KN KP KR KW KY KZ LA LB LC LI LK LR LS LT LU LV LY MA MC MD ME MF MG MH MK ML MM MN MO MP MQ MR MS MT MU MV MW MX MY MZ ' +
  'NA NC NE NF NG NI NL NO NP NR NU NZ OM PA PE PF PG PH PK PL PM PR PS PT PW PY QA RE RO RS RU RW SA SB SC SD SE SG SH SI SJ SK SL SM SN SO SR SS ST SV SX SY SZ ' +
  'TC TD TG TH TJ TK TL TM TN TO TR TT TV TW TZ UA UG US UY UZ VA VC VE VG VI VN VU WF WS YE YT ZA ZM ZW';
export const countryCodes: readonly string[] = codes.split(' ');

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
