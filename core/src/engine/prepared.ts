import { type AddressRange, type AddressSet, addressSet, setRanges } from '../address/index.js';
import type { CountryData } from '../country/index.js';
import { compileLists, type ListSets } from '../list/index.js';
import { type AddressTerm, type Policy, trustOf } from '../policy/index.js';
import type { ClientTrust } from '../request/index.js';
import type { Workspace } from '../workspace/workspace.js';

/** A workspace at one instant, with its lists and country data ready to search. Immutable. */
export interface Prepared {
  readonly workspace: Workspace;
  readonly lists: ListSets;
  /** Undefined where no country data is loaded: then every country is unseen. */
  readonly countryData: CountryData | undefined;
  /** The instant at which list entries' expiry was judged, in milliseconds since 1970. */
  readonly at: number;
  readonly trust: ReadonlyMap<string, ClientTrust>;
}

export interface PrepareOptions {
  readonly countryData: CountryData | undefined;
  /** Milliseconds since 1970. */
  readonly at: number;
}

export function prepare(workspace: Workspace, { countryData, at }: PrepareOptions): Prepared {
  const lists = compileLists(workspace.lists, at);
  const trust = new Map([...workspace.policies.values()].map((policy) => [policy.name, compileTrust(policy, lists)]));
  return { workspace, lists, countryData, at, trust };
}

function compileTrust(policy: Policy, lists: ListSets): ClientTrust {
  const source = policy.client;
  return { headers: headersOf(source), trusted: joined(trustOf(source), lists) };
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
