import { type Address, type AddressRange, isRangeFault, rangeContains, tryRange } from '../address/index.js';

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

/**
 * The networks whose addresses mean something in a private network alone: loopback, link-local and private use of RFC 6890,
 * shared space (RFC 6598), unique local addresses (RFC 4193). Space for documentation and benchmarks is not among them.
 */
const PRIVATE_NETWORKS: readonly AddressRange[] = [
  ...['0.0.0.0/8', '10.0.0.0/8', '100.64.0.0/10', '127.0.0.0/8', '169.254.0.0/16', '172.16.0.0/12', '192.168.0.0/16'],
  ...['::/127', 'fc00::/7', 'fe80::/10'],
].flatMap((text) => {
  const range = tryRange(text);
  return isRangeFault(range) ? [] : [range];
});

/** Whether an address is of a private network. */
export const isPrivateAddress = (address: Address): boolean =>
  PRIVATE_NETWORKS.some((range) => rangeContains(range, address));
