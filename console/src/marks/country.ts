/** The user-assigned codes of ISO 3166-1, free for made-up countries; some of them have odd names in CLDR. */
const USER_ASSIGNED = /^(?:AA|Q[M-Z]|X[A-Z]|ZZ)$/;
const names = new Intl.DisplayNames('en', { type: 'region' });

/** The English name of a country; its code where it is a made-up one, and any other word as it is. */
export function nameOfCountry(code: string): string {
  if (USER_ASSIGNED.test(code)) return code;
  try {
    return names.of(code) ?? code;
  } catch {
    return code;
  }
}
