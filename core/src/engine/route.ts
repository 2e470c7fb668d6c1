import { type Address, formatPrefix, networkOf } from '../address/index.js';
import { type DomainPattern, formatDomainPattern } from '../domain/index.js';
import { coveredClients, coveredHosts, type Policy } from '../policy/index.js';
import { type ClientTrust, findClient, type Request } from '../request/index.js';
import type { Prepared } from './prepared.js';

/** Which policy each request goes to, by what the policies cover. */
export interface Router {
  readonly route: (request: Request) => Policy | undefined;
  /** The policy that covers the host. */
  readonly byHost: (host: string) => Policy | undefined;
  /** The policy that covers the client of a request whose host no policy covers. */
  readonly byClient: (request: Request) => Policy | undefined;
}

/**
 * Inbound comes first: the most specific host pattern that means the request's host. Then outbound: the longest
 * network that holds the client, which each policy resolves in its own way. A policy that is off covers nothing.
 */
export function createRouter(prepared: Prepared): Router {
  const policies = [...prepared.workspace.policies.values()].filter((policy) => policy.stance !== 'off');
  const hosts = new Map<string, Policy>();
  for (const policy of policies)
    for (const { pattern } of coveredHosts(policy, prepared.workspace.lists, prepared.at))
      hosts.set(formatDomainPattern(pattern), policy);
  const outbound = policies
    .map((policy) => ({
      policy,
      trust: prepared.trust.get(policy.name) as ClientTrust,
      ...networksOf(policy, prepared),
    }))
    .filter(({ lengths }) => lengths.length > 0);

  const byClient = (request: Request): Policy | undefined => {
    let best: { policy: Policy; length: number } | undefined;
    for (const { policy, trust, networks, lengths } of outbound) {
      const address = findClient(request, trust).address;
      const length = address && longestMatch(address, networks, lengths);
      if (length !== undefined && length > (best?.length ?? -1)) best = { policy, length };
    }
    return best?.policy;
  };
  return {
    route: (request) => (request.host && byHost(hosts, request.host)) || byClient(request),
    byHost: (host) => byHost(hosts, host),
    byClient,
  };
}

function byHost(hosts: ReadonlyMap<string, Policy>, host: string): Policy | undefined {
  if (hosts.size === 0) return undefined;
  const owner = (reach: DomainPattern['reach'], name: string) => hosts.get(formatDomainPattern({ reach, name }));
  const own = owner('exact', host) ?? owner('under', host);
  if (own) return own;
  for (let dot = host.indexOf('.'); dot >= 0; dot = host.indexOf('.', dot + 1)) {
    const found = owner('only-under', host.slice(dot + 1)) ?? owner('under', host.slice(dot + 1));
    if (found) return found;
  }
  return undefined;
}

interface Networks {
  readonly networks: ReadonlySet<string>;
  /** The lengths that occur, the longest first, IPv4 and IPv6 apart. */
  readonly lengths: readonly { readonly family: 4 | 6; readonly length: number }[];
}

function networksOf(policy: Policy, prepared: Prepared): Networks {
  const prefixes = coveredClients(policy, prepared.workspace.lists, prepared.at).map(({ pattern }) => pattern);
  const distinct = new Map(
    prefixes.map(({ address, length }) => [`${address.family}/${length}`, { family: address.family, length }]),
  );
  return {
    networks: new Set(prefixes.map(formatPrefix)),
    lengths: [...distinct.values()].sort((a, b) => b.length - a.length),
  };
}

/** The length of the longest of the networks that holds the address, or undefined. */
function longestMatch(
  address: Address,
  networks: Networks['networks'],
  lengths: Networks['lengths'],
): number | undefined {
  const matching = ({ family, length }: Networks['lengths'][number]) =>
    family === address.family && networks.has(formatPrefix({ address: networkOf(address, length).first, length }));
  return lengths.find(matching)?.length;
}
