import { type Address, parseAddress, setContains } from '../address/index.js';
import type { ColumnTable } from '../column/index.js';
import {
  type Addresses,
  addressesIn,
  type Clients,
  classesOf,
  combine,
  type Prepared,
  pairs,
} from '../engine/index.js';
import type { Policy } from '../policy/index.js';
import { type ClientTrust, findClient, makeRequest } from '../request/index.js';

/** The clients of rows as a policy resolves them. */
export interface ResolvedClients extends Clients {
  /** Whether they are the peers, so that their column can stand for them. */
  readonly arePeers: boolean;
  /** The country of a class of clients. */
  readonly countryOf: (number: number) => string | undefined;
}

/** Resolves the client of each row, by the peer and the headers that the policy takes it from. */
export function resolveClients(
  table: ColumnTable,
  rows: Uint32Array,
  policy: Policy,
  prepared: Prepared,
): ResolvedClients {
  const trust = prepared.trust.get(policy.name) as ClientTrust;
  const headers = trust.headers.filter((header) => table.columns.has(`header.${header}`));
  const peers = addressesIn(table, 'peer', rows);
  const found = headers.length === 0 ? peers : throughHeaders(table, rows, peers, { ...trust, headers });
  const { partition } = prepared.shared();
  const byCode = classesOf(found, partition);
  const classes = new Int32Array(rows.length);
  for (let at = 0; at < rows.length; at++) classes[at] = byCode[found.codes[at] as number] as number;
  return { ...found, classes, arePeers: found === peers, countryOf: (number) => partition.classes[number]?.country };
}

/** Each combination of a peer and what the headers say is resolved once. */
function throughHeaders(table: ColumnTable, rows: Uint32Array, peers: Addresses, trust: ClientTrust): Addresses {
  const values = combine(
    table,
    trust.headers.map((header) => `header.${header}`),
    rows,
  );
  const { codes, first } = pairs(peers.codes, peers.count, values.codes, values.texts.length);
  const vouched = Array.from({ length: peers.count }, (_, code) => {
    const peer = peers.at(code);
    return peer !== undefined && setContains(trust.trusted, peer);
  });
  const clients = first.map((at) => {
    const peer = peers.codes[at] as number;
    return resolve(
      peers.at(peer),
      vouched[peer] as boolean,
      values.texts[values.codes[at] as number] as (string | undefined)[],
      trust,
    );
  });
  return { codes, count: clients.length, at: (code) => clients[code], column: undefined };
}

/** One address by itself is what most proxies say, and needs no walk. */
const ONE_ADDRESS = /^[0-9.]+$/;

function resolve(
  peer: Address | undefined,
  vouched: boolean,
  values: readonly (string | undefined)[],
  trust: ClientTrust,
): Address | undefined {
  if (!vouched) return peer;
  const [only, ...others] = values.filter((value) => value !== undefined);
  if (only === undefined) return peer;
  if (others.length === 0 && ONE_ADDRESS.test(only) && trust.headers[values.indexOf(only)] !== 'forwarded')
    return parseAddress(only) ?? peer;
  const headers = trust.headers.flatMap((header, at) => {
    const value = values[at];
    return value === undefined ? [] : [[header, value] as const];
  });
  return findClient(makeRequest({ peer, headers: new Map(headers) }), trust).address;
}
