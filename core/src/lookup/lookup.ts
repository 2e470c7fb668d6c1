import { type Address, formatAddress, formatRange } from '../address/index.js';
import { type Condition, fieldName, partTerms, type Test } from '../condition/index.js';
import { countryName, networkTelling, originOf } from '../country/index.js';
import { patternMatches } from '../domain/index.js';
import {
  conditionsHold,
  createRouter,
  findEntry,
  type Judged,
  type Prepared,
  pathsOf,
  type Seen,
  testField,
} from '../engine/index.js';
import { type ListSort } from '../list/index.js';
import type { Request } from '../request/index.js';
import {
  type AnswerSource,
  answerFor,
  holdsUntil,
  isPrivateAddress,
  isPrivateName,
  literalOf,
} from '../resolution/index.js';
import { DEFAULT_PATHS } from '../url/index.js';
import { type Asked, requestsOf } from './asked.js';
import { type ConcerningRule, concerning } from './concerning.js';

/** Everything that a workspace knows of an address, a host, a URL or a user: plain data. */
export interface LookedUp {
  readonly kind: Asked['kind'];
  readonly normal: string;
  /** Of an address; null when unknown. */
  readonly country: LookedUpCountry | null;
  /** Of a host or URL, what the resolutions say of it; null where they say nothing. */
  readonly resolution: LookedUpAnswer | null;
  readonly lists: readonly LookedUpEntry[];
  readonly categories: readonly string[];
  readonly applications: readonly string[];
  /** Categories and applications that name it, and test more fields than the value has. */
  readonly inPart: readonly NamedInPart[];
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

/** The last answer for a host. Times are RFC 3339. */
export interface LookedUpAnswer {
  readonly host: string;
  readonly seen: string;
  /** Until when it holds; null where nobody said. */
  readonly until: string | null;
  readonly from: AnswerSource;
  /** Of no addresses, the host is known to have none. */
  readonly addresses: readonly LookedUpAddress[];
  /** True for a public name at an address of private networks: whoever answered may lie, or the network has names of its own. */
  readonly isPrivate: boolean;
}

export interface LookedUpAddress {
  readonly address: string;
  /** Null where no country data is loaded. */
  readonly country: LookedUpCountry | null;
  /** The lists that hold the address. */
  readonly lists: readonly LookedUpEntry[];
}

export interface NamedInPart {
  readonly kind: 'category' | 'application';
  readonly name: string;
  /** The other fields that they test. */
  readonly also: readonly string[];
}

export interface LookedUpEntry {
  readonly list: string;
  readonly of: ListSort;
  readonly entry: string;
  /** The included list that has the entry, if it is not this list itself. */
  readonly through: string | null;
  readonly note: string | null;
}

/**
 * Everything that the workspace and its data say about a value: lists, country, categories, applications, policies, rules.
 */
export function lookUp(asked: Asked, prepared: Prepared): LookedUp {
  const as = requestsOf(asked);
  const router = createRouter(prepared);
  const owner = as.host?.host === undefined ? undefined : router.byHost(as.host.host);
  const outbound = as.client && router.byClient(as.client);
  return {
    kind: asked.kind,
    normal: asked.normal,
    country: asked.kind === 'address' ? countryOf(asked.address, prepared) : null,
    resolution: as.host ? resolutionOf(as.host.host, prepared) : null,
    lists: listsHolding(seenOf(asked), SORTS[asked.kind], prepared),
    categories: as.host ? namesHolding(as.host, prepared.categories, prepared) : [],
    applications: as.host ? namesHolding(as.host, prepared.applications, prepared) : [],
    inPart: as.host ? namedInPart(as.host, prepared) : [],
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
function literalsOf(host: string | undefined): Address[] {
  const address = host === undefined ? undefined : literalOf(host);
  return address ? [address] : [];
}

function resolutionOf(host: string | undefined, prepared: Prepared): LookedUpAnswer | null {
  const answer = host === undefined ? undefined : answerFor(prepared.resolutions, host);
  if (answer === undefined) return null;
  const until = holdsUntil(answer);
  return {
    host: answer.host,
    seen: new Date(answer.seen).toISOString(),
    until: until === undefined ? null : new Date(until).toISOString(),
    from: answer.from,
    addresses: answer.addresses.map((address) => {
      const text = formatAddress(address);
      const seen = { text, texts: [], addresses: [address], url: undefined };
      return {
        address: text,
        country: countryOf(address, prepared),
        lists: listsHolding(seen, ['addresses'], prepared),
      };
    }),
    isPrivate: !isPrivateName(answer.host) && answer.addresses.some(isPrivateAddress),
  };
}

function seenOf(asked: Asked): Seen {
  const host = asked.kind === 'host' ? asked.host : asked.kind === 'url' ? asked.request.host : undefined;
  return {
    text: asked.normal,
    texts: asked.kind === 'user' ? [asked.user] : host === undefined ? [] : [host],
    addresses: asked.kind === 'address' ? [asked.address] : literalsOf(host),
    url: asked.kind === 'url' ? asked.request : undefined,
  };
}

function listsHolding(seen: Seen, sorts: readonly ListSort[], prepared: Prepared): LookedUpEntry[] {
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

/** Nothing in a catalogue depends on the client, so that any policy resolves it well enough. */
function judgedAlone(request: Request, prepared: Prepared): Judged {
  const subject = {
    request,
    client: NO_CLIENT,
    origin: undefined,
    destinations: request.destination && [request.destination],
    destinationCountries: undefined,
    resolves: false,
    ...pathsOf(request, DEFAULT_PATHS),
  };
  return { subject, tags: new Set(), prepared };
}

/** The tests that name it as a target, and test more fields than the value has. */
function namedInPart(request: Request, prepared: Prepared): NamedInPart[] {
  const judged = judgedAlone(request, prepared);
  const of = (kind: NamedInPart['kind'], all: Prepared['categories']) =>
    [...all].flatMap(([name, conditions]): NamedInPart[] => {
      if (conditionsHold(conditions, judged).holds !== 'unseen') return [];
      const also = conditions.flatMap((condition) => unseenBeside(condition, request, judged) ?? []);
      return also.length === 0 ? [] : [{ kind, name, also: [...new Set(also)] }];
    });
  return [...of('category', prepared.categories), ...of('application', prepared.applications)];
}

/** The fields that a condition tests beside the name of the value; undefined when it does not name it. */
function unseenBeside(condition: Condition, request: Request, judged: Judged): string[] | undefined {
  const tests = condition.map((test) => ({ test, holds: testField(test, judged).holds }));
  if (tests.some(({ holds }) => holds === 'no match')) return undefined;
  const speaks = tests.some(
    ({ test, holds }) => (holds === 'match' && NAMING.includes(test.field)) || namesHost(test, request.host),
  );
  if (!speaks) return undefined;
  return tests
    .filter(({ holds }) => holds === 'unseen')
    .map(({ test }) => (test.field === 'url' ? 'path' : fieldName(test)));
}

const NAMING: readonly Test['field'][] = ['host', 'url', 'destination'];

/** Whether a test of URLs matches some of the host's URLs; the host alone has no path to compare. */
function namesHost(test: Test, host: string | undefined): boolean {
  if (test.field !== 'url' || host === undefined) return false;
  return partTerms(test).asked.some(
    (term) => term.type === 'url' && term.pattern.type === 'parts' && patternMatches(term.pattern.host, host),
  );
}

function namesHolding(request: Request, all: Prepared['categories'], prepared: Prepared): string[] {
  const judged = judgedAlone(request, prepared);
  return [...all]
    .filter(([, conditions]) => conditionsHold(conditions, judged).holds === 'match')
    .map(([name]) => name);
}

const NO_CLIENT = { address: undefined, source: 'peer', how: 'no-peer' } as const;
