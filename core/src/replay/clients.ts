import { type Address, parseAddress, readFour, setContains } from '../address/index.js';
import {
  type AddressColumn,
  AddressColumnBuilder,
  addressCodes,
  addressOf,
  type ColumnTable,
  codeOffsets,
  gathered,
  joinAddresses,
} from '../column/index.js';
import {
  allRows,
  type Clients,
  type Combinations,
  classesOf,
  combine,
  type Prepared,
  textColumn,
  wholeColumn,
} from '../engine/index.js';
import { type ClientTrust, findClient, makeRequest } from '../request/index.js';

/** The clients of some rows of a chunk, as a policy takes them. */
export interface ResolvedClients extends Clients {
  /** With the clients of all rows of the chunk, taken in the same way. */
  readonly dictionary: AddressColumn;
}

/** The clients of a chunk's rows, in each way in which policies take them: each way is gone through once. */
export class ChunkClients {
  /** Who was connected. */
  readonly peers: AddressColumn;
  readonly #table: ColumnTable;
  readonly #prepared: Prepared;
  readonly #columns = new Map<ClientTrust, AddressColumn>();
  readonly #classes = new Map<AddressColumn, Int32Array>();

  constructor(table: ColumnTable, prepared: Prepared) {
    this.#table = table;
    this.#prepared = prepared;
    this.peers = wholeColumn(table, 'peer');
  }

  /** The client of each row of the chunk, by the peer and the headers that may tell it. */
  column(trust: ClientTrust): AddressColumn {
    let column = this.#columns.get(trust);
    if (column === undefined) {
      const headers = trust.headers.filter((header) => this.#table.columns.has(`header.${header}`));
      column = headers.length === 0 ? this.peers : throughHeaders(this.#table, this.peers, { ...trust, headers });
      this.#columns.set(trust, column);
    }
    return column;
  }

  /** The clients of the rows as the policy takes them. */
  of(policy: string, rows: Uint32Array): ResolvedClients {
    const column = this.column(this.#prepared.trust.get(policy) as ClientTrust);
    return { dictionary: column, codes: gathered(column.codes, rows), classes: this.#classesOf(column) };
  }

  #classesOf(column: AddressColumn): Int32Array {
    let classes = this.#classes.get(column);
    if (classes === undefined) {
      classes = classesOf(column, this.#prepared.shared().partition);
      this.#classes.set(column, classes);
    }
    return classes;
  }
}

/** What headers say of the client by themselves: nothing, or something that has to be walked from the peer. */
const NOTHING = -1;
const A_WALK = -2;

/**
 * Most peers are no trusted proxies, and most of those say one address, whichever peer it is that says it. Of all else
 * each combination of a peer and what its headers say is walked once.
 */
function throughHeaders(table: ColumnTable, peers: AddressColumn, trust: ClientTrust): AddressColumn {
  const names = trust.headers.map((header) => `header.${header}`);
  const values = combine(table, names, allRows(table.rows));
  const plain = plainBytes(table, trust.headers) ?? plainTexts(values, trust.headers);
  const vouched = vouchedPeers(peers, trust);
  const walks = new Walks(values.count);
  const [ofPeers, ofValues] = [peers.codes, values.codes];
  // Values are counted from 0, and codes of a dictionary from 1.
  const ofPlain = addressCodes(peers);
  const codes = new Uint32Array(table.rows);
  for (let row = 0; row < codes.length; row++) {
    const peer = ofPeers[row] as number;
    const value = ofValues[row] as number;
    const said = plain[value] as number;
    if (said === NOTHING || vouched[peer] === 0) codes[row] = peer;
    else if (said >= 0) codes[row] = ofPlain + value;
    else walks.add(row, peer, value);
  }
  const ofPlainFour = Uint32Array.from(plain, (value) => Math.max(0, value));
  const [rows, walked] = walks.ended((peer, value) => {
    const request = makeRequest({
      peer: addressOf(peers, peer),
      headers: headersOf(values.texts(value), trust.headers),
    });
    return findClient(request, trust).address;
  });
  const dictionaries = [peers, { four: ofPlainFour, six: new Uint32Array(0) }, walked];
  const ofWalked = codeOffsets(dictionaries)[2] as number;
  for (const [at, row] of rows.entries()) {
    const code = walked.codes[at] as number;
    codes[row] = code === 0 ? 0 : ofWalked + code;
  }
  return joinAddresses(dictionaries, codes);
}

/** Whether each peer may tell a client other than itself. */
function vouchedPeers(peers: AddressColumn, { trusted }: ClientTrust): Uint8Array {
  const vouched = new Uint8Array(addressCodes(peers));
  for (let code = 1; code < vouched.length; code++)
    vouched[code] = setContains(trusted, addressOf(peers, code) as Address) ? 1 : 0;
  return vouched;
}

/** What the values of one header say, by their codes. What stands in `Forwarded` is never an address by itself. */
function plainBytes(table: ColumnTable, [header, ...others]: readonly string[]): Float64Array | undefined {
  const bytes = textColumn(table, `header.${header}`)?.bytes;
  if (bytes === undefined || others.length > 0 || header === 'forwarded') return undefined;
  const plain = new Float64Array(bytes.ends.length + 1);
  plain[0] = NOTHING;
  for (let code = 1, start = 0; code < plain.length; code++) {
    const end = bytes.ends[code - 1] as number;
    const value = readFour(bytes.texts, start, end);
    plain[code] = value < 0 ? A_WALK : value;
    start = end;
  }
  return plain;
}

/** The same for several headers together. */
function plainTexts(values: Combinations, headers: readonly string[]): Float64Array {
  const plain = new Float64Array(values.count);
  for (let number = 0; number < plain.length; number++) {
    const [first, ...others] = headersOf(values.texts(number), headers);
    const address = first && others.length === 0 && first[0] !== 'forwarded' ? parseAddress(first[1]) : undefined;
    plain[number] = first === undefined ? NOTHING : address?.family === 4 ? address.value : A_WALK;
  }
  return plain;
}

const headersOf = (texts: readonly (string | undefined)[], headers: readonly string[]): Map<string, string> =>
  new Map(headers.flatMap((header, at) => (texts[at] === undefined ? [] : [[header, texts[at]] as const])));

/** Rows whose client is found by walking from the peer: each pair of a peer and a value is walked once. */
class Walks {
  readonly #values: number;
  readonly #rows: number[] = [];
  readonly #pairs: number[] = [];

  /** `values` is above the codes of all values. */
  constructor(values: number) {
    this.#values = values;
  }

  add(row: number, peer: number, value: number): void {
    this.#rows.push(row);
    this.#pairs.push(peer * this.#values + value);
  }

  /** The rows, and the addresses that their walks end at. */
  ended(walk: (peer: number, value: number) => Address | undefined): [readonly number[], AddressColumn] {
    const found = new Map<number, Address | undefined>();
    const builder = new AddressColumnBuilder(this.#rows.length);
    for (const [at, pair] of this.#pairs.entries()) {
      if (!found.has(pair)) found.set(pair, walk(Math.floor(pair / this.#values), pair % this.#values));
      builder.setCode(at, builder.code(found.get(pair)));
    }
    return [this.#rows, builder.build(this.#rows.length)];
  }
}
