/**
 * The domains that RFC 6761, 6762, 7686, 8375 and 9476 and ICANN keep for private use: no public server answers for them,
 * and asking one would tell it what is inside. `example` is a name like others there.
 */
const PRIVATE_DOMAINS = ['alt', 'home.arpa', 'internal', 'invalid', 'local', 'localhost', 'onion', 'test'];

/** Whether a host in normal form is a name of a private network: one without a dot, or under a private domain. */
export function isPrivateName(host: string, own: readonly string[] = []): boolean {
  if (!host.includes('.')) return true;
  return [...PRIVATE_DOMAINS, ...own].some((domain) => host === domain || host.endsWith(`.${domain}`));
}
