import { type Address, formatAddress, parseAddress } from '../address/index.js';
import type { ColumnTable } from '../column/index.js';
import { type Clients, combine, type Prepared } from '../engine/index.js';
import type { Policy } from '../policy/index.js';
import { type ClientTrust, findClient, makeRequest } from '../request/index.js';

/** The clients of rows as a policy resolves them, with what is told of each. */
export interface ResolvedClients extends Clients {
  readonly texts: readonly (string | undefined)[];
  readonly countries: readonly (string | undefined)[];
}

/** Resolves the client of each row, by the peer and the headers that the policy takes it from. */
export function resolveClients(
  table: ColumnTable,
  rows: Uint32Array,
  policy: Policy,
  prepared: Prepared,
): ResolvedClients {
  const trust = prepared.trust.get(policy.name) as ClientTrust;
  const { codes, texts } = combine(table, ['peer', ...trust.headers.map((header) => `header.${header}`)], rows);
  const addresses = texts.map(([peer, ...values]) => {
    const headers = trust.headers.flatMap((header, at) =>
      values[at] === undefined ? [] : [[header, values[at]] as const],
    );
    return findClient(
      makeRequest({ peer: peer === undefined ? undefined : parseAddress(peer), headers: new Map(headers) }),
      trust,
    ).address;
  });
  return {
    codes,
    addresses,
    texts: addresses.map(told),
    countries: addresses.map((each) => countryOf(each, prepared)),
  };
}

const told = (address: Address | undefined): string | undefined => address && formatAddress(address);

function countryOf(address: Address | undefined, { shared }: Prepared): string | undefined {
  if (address === undefined) return undefined;
  const { partition } = shared();
  return partition.classes[partition.classOf(address)]?.country;
}
