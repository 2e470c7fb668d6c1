import { type AddressRange, type AddressSet, addressSet, setRanges } from '../address/index.js';
import { categoryConditions } from '../category/index.js';
import { type AddressTerm, type Condition, formatTerm } from '../condition/index.js';
import { type CountryData, type CountrySources, compileCountryData } from '../country/index.js';
import { compileLists, type ListSets } from '../list/index.js';
import { type Policy, trustOf } from '../policy/index.js';
import type { ClientTrust } from '../request/index.js';
import { NO_RESOLUTIONS, type Resolutions } from '../resolution/index.js';
import type { Workspace } from '../workspace/workspace.js';
import { type SharedPartition, sharedPartition } from './plan/partition/shared.js';

/** A workspace at one instant, with its lists and country data ready to search. Immutable. */
export interface Prepared extends PreparedRules {
  /** Where no country data is loaded, the country of what no correction holds is unseen. */
  readonly country: CountrySources;
}

/** All of it that requests are decided by. */
export interface PreparedRules {
  readonly workspace: Workspace;
  readonly lists: ListSets;
  /** All address lists and countries as one partition of the address space; made on first use. */
  readonly shared: () => SharedPartition;
  /** The conditions of each category. */
  readonly categories: ReadonlyMap<string, readonly Condition[]>;
  /** The conditions of each application. */
  readonly applications: ReadonlyMap<string, readonly Condition[]>;
  /** The instant at which list entries' expiry was judged, in milliseconds since 1970. */
  readonly at: number;
  readonly trust: ReadonlyMap<string, ClientTrust>;
  /** The addresses of hosts, for policies that resolve destinations. */
  readonly resolutions: Resolutions;
}

export interface PrepareOptions {
  readonly countryData: CountryData | undefined;
  /** Default: none. */
  readonly resolutions?: Resolutions | undefined;
  /** Milliseconds since 1970. */
  readonly at: number;
  /** An earlier state: objects that are the same in both workspaces are reused. */
  readonly previous?: Prepared | undefined;
}

/**
 * Compiles a workspace for judging: its lists, schedules, country data and catalogue, at the instant that list entries
 * expire by. Plans of policies are compiled on first use. Unchanged parts of `previous` are shared with
 * that. The result is immutable, and throws nothing on a workspace that was read without issues.
 */
export function prepare(
  workspace: Workspace,
  { countryData, resolutions = NO_RESOLUTIONS, at, previous }: PrepareOptions,
): Prepared {
  const before = previous && { lists: previous.workspace.lists, sets: previous.lists, at: previous.at };
  const lists = compileLists(workspace.lists, at, before);
  const corrections =
    previous && sameValues(workspace.corrections, previous.workspace.corrections)
      ? previous.country.corrections
      : compileCorrections(workspace);
  const country = { data: countryData, corrections };
  const unchanged =
    previous &&
    previous.lists.addresses === lists.addresses &&
    previous.lists.countries === lists.countries &&
    previous.country.data === countryData &&
    previous.country.corrections === corrections;
  return {
    workspace,
    lists,
    country,
    shared: unchanged ? previous.shared : sharedPartition(lists, country),
    categories: new Map([...workspace.categories].map(([name, category]) => [name, categoryConditions(category)])),
    applications: new Map([...workspace.applications].map(([name, application]) => [name, application.when])),
    at,
    trust: compileTrusts([...workspace.policies.values()], lists),
    resolutions,
  };
}

function sameValues<T>(a: ReadonlyMap<string, T>, b: ReadonlyMap<string, T>): boolean {
  return a.size === b.size && [...a].every(([name, value]) => b.get(name) === value);
}

function compileCorrections({ corrections }: Workspace): CountryData | undefined {
  const networks = [...corrections.values()].flatMap((each) => each.networks);
  if (networks.length === 0) return undefined;
  return compileCountryData(networks.map(({ range, country }, index) => ({ range, code: country, line: index + 1 })));
}

/** Policies that take the client in the same way share how, so that it is found once for all of them. */
function compileTrusts(policies: readonly Policy[], lists: ListSets): Map<string, ClientTrust> {
  const known = new Map<string, ClientTrust>();
  return new Map(
    policies.map(({ name, client }) => {
      const [headers, terms] = [headersOf(client), trustOf(client)];
      const key = JSON.stringify([headers, terms.map((term) => `${term.type} ${formatTerm(term)}`).sort()]);
      const trust = known.get(key) ?? { headers, trusted: joined(terms, lists) };
      known.set(key, trust);
      return [name, trust];
    }),
  );
}

function headersOf(source: Policy['client']): readonly string[] {
  switch (source.from) {
    case 'peer':
      return [];
    case 'forwarded':
      return ['forwarded', 'x-forwarded-for'];
    case 'header':
      return [source.header];
  }
}

function joined(terms: readonly AddressTerm[], lists: ListSets): AddressSet {
  return addressSet(
    terms.flatMap((term) => (term.type === 'range' ? [term.range] : rangesOf(lists.addresses.get(term.name)))),
  );
}

function rangesOf(set: AddressSet | undefined): AddressRange[] {
  return set === undefined ? [] : setRanges(set);
}
