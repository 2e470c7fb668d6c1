import { formatRange, parseAddress } from '../address/index.js';
import { countryName, networkTelling, originOf } from '../country/index.js';
import {
  conditionsHold,
  createRouter,
  findEntry,
  type Judged,
  type Prepared,
  pathsOf,
  type Seen,
} from '../engine/index.js';
import { type ListSort } from '../list/index.js';
import type { Request } from '../request/index.js';
import { DEFAULT_PATHS } from '../url/index.js';
import { type Asked, requestsOf } from './asked.js';
import { type ConcerningRule, concerning } from './concerning.js';

/** Everything that a workspace knows of an address, a host, a URL or a user: plain data. */
export interface LookedUp {
  readonly kind: Asked['kind'];
  readonly normal: string;
  /** Of an address; null where nothing tells it. */
  readonly country: LookedUpCountry | null;
  readonly lists: readonly LookedUpEntry[];
  readonly categories: readonly string[];
  readonly applications: readonly string[];
  /** The policies that speak for it, and as what. */
  readonly policies: readonly { readonly policy: string; readonly as: 'client' | 'host' }[];
  readonly rules: readonly ConcerningRule[];
}

export interface LookedUpCountry {
  readonly country: string;
  readonly name: string | null;
  readonly by: 'correction' | 'data' | 'neither';
  readonly network: string | null;
}

export interface LookedUpEntry {
  readonly list: string;
  readonly of: ListSort;
  readonly entry: string;
  /** The list that the entry stands in, where it is one that this one includes. */
  readonly through: string | null;
  readonly note: string | null;
}

export function lookUp(asked: Asked, prepared: Prepared): LookedUp {
  const as = requestsOf(asked);
  const router = createRouter(prepared);
  const owner = as.host?.host === undefined ? undefined : router.byHost(as.host.host);
  const outbound = as.client && router.byClient(as.client);
  return {
    kind: asked.kind,
    normal: asked.normal,
    country: asked.kind === 'address' ? countryOf(asked.address, prepared) : null,
    lists: listsHolding(asked, prepared),
    categories: as.host ? namesHolding(as.host, prepared.categories, prepared) : [],
    applications: as.host ? namesHolding(as.host, prepared.applications, prepared) : [],
    policies: [
      ...(owner ? [{ policy: owner.name, as: 'host' as const }] : []),
      ...(outbound ? [{ policy: outbound.name, as: 'client' as const }] : []),
    ],
    rules: concerning(as, prepared),
  };
}

function countryOf(address: Parameters<typeof originOf>[1], { country }: Prepared): LookedUpCountry | null {
  const origin = originOf(country, address);
  if (!origin) return null;
  const network = networkTelling(country, address);
  return {
    country: origin.country,
    name: countryName(origin.country) ?? null,
    by: origin.by,
    network: network ? formatRange(network.range) : null,
  };
}

/** The address that a host is, where it is one. */
const literalOf = (host: string | undefined) =>
  host === undefined ? undefined : parseAddress(host.replace(/^\[(.*)\]$/, '$1'));

function listsHolding(asked: Asked, prepared: Prepared): LookedUpEntry[] {
  const host = asked.kind === 'host' ? asked.host : asked.kind === 'url' ? asked.request.host : undefined;
  const seen: Seen = {
    text: asked.normal,
    texts: asked.kind === 'user' ? [asked.user] : host === undefined ? [] : [host],
    address: asked.kind === 'address' ? asked.address : literalOf(host),
    url: asked.kind === 'url' ? asked.request : undefined,
  };
  const sorts = SORTS[asked.kind];
  return [...prepared.workspace.lists.values()]
    .filter(({ of }) => sorts.includes(of))
    .flatMap((list): LookedUpEntry[] => {
      const found = findEntry(list.name, seen, prepared);
      if (!found) return [];
      const through = found.list === list.name ? null : found.list;
      return [{ list: list.name, of: list.of, entry: found.text, through, note: found.note ?? null }];
    });
}

/** The sorts of lists whose entries can hold it. */
const SORTS: Readonly<Record<Asked['kind'], readonly ListSort[]>> = {
  address: ['addresses'],
  host: ['domains', 'addresses'],
  url: ['domains', 'urls', 'addresses'],
  user: ['users'],
};

function namesHolding(request: Request, all: Prepared['categories'], prepared: Prepared): string[] {
  // Nothing in a catalogue hangs on the client, so that any policy resolves it well enough.
  const subject = { request, client: NO_CLIENT, origin: undefined, ...pathsOf(request, DEFAULT_PATHS) };
  const judged: Judged = { subject, tags: new Set(), prepared };
  return [...all]
    .filter(([, conditions]) => conditionsHold(conditions, judged).holds === 'match')
    .map(([name]) => name);
}

const NO_CLIENT = { address: undefined, source: 'peer', how: 'no-peer' } as const;
