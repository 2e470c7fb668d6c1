/** The officially assigned codes of ISO 3166-1 alpha-2. */
const ASSIGNED = new Set(
  (
    'AD AE AF AG AI AL AM AO AQ AR AS AT AU AW AX AZ BA BB BD BE BF BG BH BI BJ BL BM BN BO BQ BR BS BT BV BW BY BZ ' +
    'CA CC CD CF CG CH CI CK CL CM CN CO CR CU CV CW CX CY CZ DE DJ DK DM DO DZ EC EE EG EH ER ES ET FI FJ FK FM FO ' +
    'FR GA GB GD GE GF GG GH GI GL GM GN GP GQ GR GS GT GU GW GY HK HM HN HR HT HU ID IE IL IM IN IO IQ IR IS IT JE ' +
    'JM JO JP KE KG KH KI KM KN KP KR KW KY KZ LA LB LC LI LK LR LS LT LU LV LY MA MC MD ME MF MG MH MK ML MM MN MO ' +
    'MP MQ MR MS MT MU MV MW MX MY MZ NA NC NE NF NG NI NL NO NP NR NU NZ OM PA PE PF PG PH PK PL PM PN PR PS PT PW ' +
    'PY QA RE RO RS RU RW SA SB SC SD SE SG SH SI SJ SK SL SM SN SO SR SS ST SV SX SY SZ TC TD TF TG TH TJ TK TL TM ' +
    'TN TO TR TT TV TW TZ UA UG UM US UY UZ VA VC VE VG VI VN VU WF WS YE YT ZA ZM ZW'
  ).split(' '),
);

/** The user-assigned codes of ISO 3166-1, free for made-up countries. */
const USER_ASSIGNED = /^(?:AA|Q[M-Z]|X[A-Z]|ZZ)$/;

/** Whether the text is an assigned or user-assigned code, in capitals. */
export function isCountryCode(text: string): boolean {
  return ASSIGNED.has(text) || USER_ASSIGNED.test(text);
}

/** The officially assigned codes of ISO 3166-1 alpha-2. The result is the caller's own. */
export const countryCodes = (): string[] => [...ASSIGNED];

const names = new Intl.DisplayNames('en', { type: 'region', fallback: 'none' });

/** The English name of the country, or undefined for a code that has none. */
export function countryName(code: string): string | undefined {
  return ASSIGNED.has(code) ? names.of(code) : undefined;
}

/** «Portugal (PT)», or the code alone where it has no name; `private` and `unknown` in words. */
export function countryPhrase(code: string): string {
  if (code === 'private') return 'private address space';
  if (code === 'unknown') return 'an unknown country';
  const name = countryName(code);
  return name === undefined ? code : `${name} (${code})`;
}
