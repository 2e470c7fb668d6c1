import type { Address } from '../address/index.js';
import type { ColumnTable } from '../column/index.js';
import { type Addresses, addressesIn, type Clients, classesOf, combine, type Prepared } from '../engine/index.js';
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
  const numbers = new Map<number, number>();
  const clients: (Address | undefined)[] = [];
  const codes = new Int32Array(rows.length);
  for (let at = 0; at < rows.length; at++) {
    const [peer, said] = [peers.codes[at] as number, values.codes[at] as number];
    const key = peer * values.texts.length + said;
    let number = numbers.get(key);
    if (number === undefined) {
      number = clients.push(resolve(peers.at(peer), values.texts[said] as (string | undefined)[], trust)) - 1;
      numbers.set(key, number);
    }
    codes[at] = number;
  }
  return { codes, count: clients.length, at: (code) => clients[code], column: undefined };
}

function resolve(
  peer: Address | undefined,
  values: readonly (string | undefined)[],
  trust: ClientTrust,
): Address | undefined {
  const headers = trust.headers.flatMap((header, at) => {
    const value = values[at];
    return value === undefined ? [] : [[header, value] as const];
  });
  return findClient(makeRequest({ peer, headers: new Map(headers) }), trust).address;
}
