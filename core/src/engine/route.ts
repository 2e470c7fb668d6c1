import { type Address, formatAddress, networkOf, type Prefix } from '../address/index.js';
import { type DomainPattern, formatDomainPattern } from '../domain/index.js';
import { coveredClients, coveredHosts, type Policy } from '../policy/index.js';
import { type ClientTrust, findClient, type Request } from '../request/index.js';
import type { PreparedRules } from './prepared.js';

/** Which policy each request goes to, by what the policies cover. */
export interface Router {
  readonly route: (request: Request) => Policy | undefined;
  /** The policy that covers the host. */
  readonly byHost: (host: string) => Policy | undefined;
  /** The policy that covers the client of a request whose host no policy covers. */
  readonly byClient: (request: Request) => Policy | undefined;
  /** Where clients are looked for, for each way in which policies take them. */
  readonly outbound: readonly Outbound[];
}

/** The policies that cover clients and take them in the same way. */
export interface Outbound {
  readonly trust: ClientTrust;
  /** The policy that covers the address, and how well: of several the higher rank goes before. */
  readonly find: (address: Address) => Covering | undefined;
}

export interface Covering {
  readonly policy: Policy;
  readonly rank: number;
}

/**
 * Inbound comes first: the most specific host pattern that means the request's host. Then outbound: the longest
 * network that holds the client, which each policy resolves in its own way. A policy that is off covers nothing.
 */
export function createRouter(prepared: PreparedRules): Router {
  const policies = [...prepared.workspace.policies.values()].filter((policy) => policy.stance !== 'off');
  const hosts = new Map<string, Policy>();
  for (const policy of policies)
    for (const { pattern } of coveredHosts(policy, prepared.workspace.lists, prepared.at))
      hosts.set(formatDomainPattern(pattern), policy);
  const outbound = outboundOf(policies, prepared);

  const byClient = (request: Request): Policy | undefined => {
    let best: Covering | undefined;
    for (const { trust, find } of outbound) {
      const { address } = findClient(request, trust);
      const found = address && find(address);
      if (found && found.rank > (best?.rank ?? -1)) best = found;
    }
    return best?.policy;
  };
  return {
    route: (request) => (request.host && byHost(hosts, request.host)) || byClient(request),
    byHost: (host) => byHost(hosts, host),
    byClient,
    outbound,
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

function outboundOf(policies: readonly Policy[], prepared: PreparedRules): Outbound[] {
  const byTrust = new Map<ClientTrust, CoveredNetworks>();
  for (const [place, policy] of policies.entries()) {
    const trust = prepared.trust.get(policy.name) as ClientTrust;
    for (const { pattern } of coveredClients(policy, prepared.workspace.lists, prepared.at)) {
      const networks = byTrust.get(trust) ?? new CoveredNetworks();
      byTrust.set(trust, networks);
      // The longest network goes before, and of those as long the policy that comes first.
      networks.add(pattern, { policy, rank: (pattern.length + 1) * policies.length - place });
    }
  }
  return [...byTrust].map(([trust, networks]) => ({ trust, find: (address) => networks.find(address) }));
}

/** Networks of one length, by what they are found by. */
interface SameLength {
  readonly length: number;
  readonly networks: Map<number | string, Covering>;
}

class CoveredNetworks {
  /** The longest first. */
  readonly #byLength: Record<4 | 6, SameLength[]> = { 4: [], 6: [] };

  add({ address, length }: Prefix, covering: Covering): void {
    const ofFamily = this.#byLength[address.family];
    let same = ofFamily.find((each) => each.length === length);
    if (same === undefined) {
      same = { length, networks: new Map() };
      ofFamily.push(same);
      ofFamily.sort((a, b) => b.length - a.length);
    }
    const key = networkKey(address, length);
    if (covering.rank > (same.networks.get(key)?.rank ?? -1)) same.networks.set(key, covering);
  }

  find(address: Address): Covering | undefined {
    for (const { length, networks } of this.#byLength[address.family]) {
      const found = networks.get(networkKey(address, length));
      if (found) return found;
    }
    return undefined;
  }
}

/** Equal for addresses that lie in the same network of the length. */
function networkKey(address: Address, length: number): number | string {
  if (address.family === 4) return address.value - (address.value % 2 ** (32 - length));
  return formatAddress(networkOf(address, length).first);
}
