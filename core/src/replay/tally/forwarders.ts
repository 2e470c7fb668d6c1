import { type Address, formatAddress, setContains } from '../../address/index.js';
import { type AddressDictionary, addressCodes, addressOf, type ColumnTable } from '../../column/index.js';
import { allRows, combine } from '../../engine/index.js';
import { type ClientHow, type ClientTrust, findClient, makeRequest, unpackValues } from '../../request/index.js';

/** Headers that name the client, looked at where a policy takes the peer for it. */
const USUAL = ['x-forwarded-for', 'forwarded'];
/** This many peers of a chunk, and of a replay, are reported. */
const MOST_PEERS = 64;

/** A peer that a policy does not trust, in whose requests a header names another client. Plain data. */
export interface ForwarderCount {
  readonly address: string;
  readonly header: string;
  /** The requests of the peer, and those that carry the header. */
  readonly requests: number;
  readonly carrying: number;
  /** Whether the header has different values. */
  readonly isVaried: boolean;
}

/** Reasons why the clients of requests that a policy judged are unseen or in doubt. Plain data. */
export interface ClientDoubts {
  readonly forwarders: readonly ForwarderCount[];
  /** Requests whose client is not seen, although their peer is, by why. */
  readonly unseen: Readonly<Partial<Record<ClientHow, number>>>;
}

interface Rows {
  readonly table: ColumnTable;
  /** Those that the policy judged. */
  readonly rows: Uint32Array;
  readonly peers: { readonly codes: ArrayLike<number>; readonly dictionaries: readonly AddressDictionary[] };
  /** The codes of the rows' clients, in the order of `rows`; 0: not seen. */
  readonly clients: Uint32Array;
}

/** The peers of some rows that look like proxies which the policy does not trust, and the clients that it could not see. */
export function doubtsOf(given: Rows, trust: ClientTrust): ClientDoubts {
  const { table } = given;
  const headers = (trust.headers.length > 0 ? trust.headers : USUAL).filter((header) =>
    table.columns.has(`header.${header}`),
  );
  return { forwarders: forwardersIn(given, headers, trust), unseen: unseenIn(given, headers, trust) };
}

function forwardersIn({ table, rows, peers }: Rows, headers: readonly string[], trust: ClientTrust): ForwarderCount[] {
  if (headers.length === 0) return [];
  const dictionary = peers.dictionaries[0] as AddressDictionary;
  const values = combine(
    table,
    headers.map((header) => `header.${header}`),
    allRows(table.rows),
  );
  const carried = new Int8Array(values.count).fill(-1);
  const isTrusted = new Int8Array(addressCodes(dictionary)).fill(-1);
  const found = new Map<number, { requests: number; carrying: number; value: number; isVaried: boolean }>();
  const isCarried = (value: number): boolean => {
    if (carried[value] === -1) carried[value] = headerIn(values.texts(value), headers) === undefined ? 0 : 1;
    return carried[value] === 1;
  };
  for (const row of rows) {
    const peer = peers.codes[row] as number;
    if (peer === 0) continue;
    if (isTrusted[peer] === -1)
      isTrusted[peer] = setContains(trust.trusted, addressOf(dictionary, peer) as Address) ? 1 : 0;
    if (isTrusted[peer] === 1) continue;
    const value = values.codes[row] as number;
    const known = found.get(peer);
    if (known) known.requests++;
    if (!isCarried(value)) {
      // Most peers carry none, and are not kept for that.
      if (!known) isTrusted[peer] = 1;
      continue;
    }
    if (known === undefined) found.set(peer, { requests: 1, carrying: 1, value, isVaried: false });
    else {
      known.carrying++;
      if (known.value !== value) known.isVaried = true;
    }
  }
  return [...found]
    .filter(([, { requests, carrying }]) => carrying === requests)
    .sort(([, a], [, b]) => b.carrying - a.carrying)
    .slice(0, MOST_PEERS)
    .map(([peer, { requests, carrying, value, isVaried }]) => ({
      address: formatAddress(addressOf(dictionary, peer) as Address),
      header: headerIn(values.texts(value), headers) as string,
      ...{ requests, carrying, isVaried },
    }));
}

/** The first of the headers that has a value. */
const headerIn = (texts: readonly (string | undefined)[], headers: readonly string[]): string | undefined =>
  headers.find((_, at) => texts[at] !== undefined && unpackValues(texts[at]).some((value) => value !== ''));

function unseenIn(
  { table, rows, peers, clients }: Rows,
  headers: readonly string[],
  trust: ClientTrust,
): ClientDoubts['unseen'] {
  if (trust.headers.length === 0) return {};
  const unseen: number[] = [];
  for (let at = 0; at < rows.length; at++) {
    const row = rows[at] as number;
    if (clients[at] === 0 && peers.codes[row] !== 0) unseen.push(row);
  }
  if (unseen.length === 0) return {};
  const dictionary = peers.dictionaries[0] as AddressDictionary;
  const values = combine(
    table,
    headers.map((header) => `header.${header}`),
    Uint32Array.from(unseen),
  );
  const counts: Partial<Record<ClientHow, number>> = {};
  const known = new Map<number, ClientHow>();
  for (const [at, row] of unseen.entries()) {
    const [peer, value] = [peers.codes[row] as number, values.codes[at] as number];
    const pair = peer * values.count + value;
    const how = known.get(pair) ?? howOf(addressOf(dictionary, peer), values.texts(value));
    known.set(pair, how);
    counts[how] = (counts[how] ?? 0) + 1;
  }
  return counts;

  function howOf(peer: Address | undefined, texts: readonly (string | undefined)[]): ClientHow {
    const shown = headers.flatMap((header, at) =>
      texts[at] === undefined ? [] : [[header, unpackValues(texts[at])] as const],
    );
    return findClient(makeRequest({ peer, headers: new Map(shown) }), trust).how;
  }
}

/** Sums up the doubts of chunks. */
export class DoubtTally {
  readonly #forwarders = new Map<string, ForwarderCount>();
  readonly #unseen: Partial<Record<ClientHow, number>> = {};

  add({ forwarders, unseen }: ClientDoubts): void {
    for (const each of forwarders) {
      const known = this.#forwarders.get(each.address);
      if (!known && this.#forwarders.size >= MOST_PEERS) continue;
      this.#forwarders.set(each.address, {
        ...each,
        requests: each.requests + (known?.requests ?? 0),
        carrying: each.carrying + (known?.carrying ?? 0),
        isVaried: each.isVaried || known !== undefined,
      });
    }
    for (const [how, requests] of Object.entries(unseen))
      this.#unseen[how as ClientHow] = (this.#unseen[how as ClientHow] ?? 0) + requests;
  }

  /** The peers that named several clients, the one with most requests first, and why clients were not seen. */
  doubts(): ClientDoubts {
    const forwarders = [...this.#forwarders.values()].filter(({ isVaried }) => isVaried);
    forwarders.sort((a, b) => b.carrying - a.carrying || (a.address < b.address ? -1 : 1));
    return { forwarders, unseen: this.#unseen };
  }
}
