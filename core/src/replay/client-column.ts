import { type Address, parseAddress, readFour, setContains } from '../address/index.js';
import {
  type AddressColumn,
  AddressColumnBuilder,
  type AddressDictionary,
  addressCodes,
  addressOf,
  type ColumnTable,
  codeOffsets,
} from '../column/index.js';
import { ALL_HEADERS, allRows, type Combinations, combine, textColumn } from '../engine/index.js';
import { type ClientTrust, findClient, makeRequest, type Request, unpackValues } from '../request/index.js';

/** The clients of a chunk's rows, as one trust resolves them. */
export interface ClientColumn {
  /** For each row the code of its client, counted on through the dictionaries; 0 where there is none. */
  readonly codes: Uint32Array;
  readonly dictionaries: readonly AddressDictionary[];
}

/** The address of a code. */
export function addressIn({ dictionaries }: ClientColumn, code: number): Address | undefined {
  let left = code;
  for (const each of dictionaries) {
    const own = addressCodes(each) - 1;
    if (left <= own) return addressOf(each, left);
    left -= own;
  }
  return undefined;
}

/** The result of headers alone: the client is the peer, nothing is logged, or the hops must be walked. */
const IS_PEER = -1;
const A_WALK = -2;
const NOT_LOGGED = -3;

/**
 * Takes the client from headers. Most peers are no trusted proxies, and most of those name one address, whichever peer
 * it is that names it. Of all else each combination of a peer and what its headers say is walked once.
 */
export function clientsByHeaders(table: ColumnTable, peers: AddressColumn, trust: ClientTrust): ClientColumn {
  const headers = trust.headers.filter((header) => table.columns.has(`header.${header}`));
  const names = headers.map((header) => `header.${header}`);
  const values = combine(table, table.columns.has(ALL_HEADERS) ? [...names, ALL_HEADERS] : names, allRows(table.rows));
  const headersAt = (number: number) => headersOf(values.texts(number), headers);
  const plain = plainBytes(table, headers) ?? plainTexts(values, headersAt);
  const { four, codes: said } = codedPlain(plain, addressCodes(peers));
  const walks = new Walks(values.count);
  const codes = taken(peers.codes, vouchedPeers(peers, trust), values.codes, said, walks);
  const [rows, walked] = walks.ended(
    (peer, value) => findClient(makeRequest({ peer: addressOf(peers, peer), ...headersAt(value) }), trust).address,
  );
  const dictionaries = [peers, { four, six: new Uint32Array(0) }, walked];
  const ofWalked = codeOffsets(dictionaries)[2] as number;
  for (const [at, row] of rows.entries()) {
    const code = walked.codes[at] as number;
    codes[row] = code === 0 ? 0 : ofWalked + code;
  }
  return { codes, dictionaries };
}

/** The clients' codes by row: the peer's, or the named client's. Headers that must be walked are passed to the walks. */
function taken(
  peers: Uint32Array,
  vouched: Uint8Array,
  values: Uint32Array,
  said: Int32Array,
  walks: Walks,
): Uint32Array {
  const codes = new Uint32Array(peers.length);
  for (let row = 0; row < codes.length; row++) {
    const peer = peers[row] as number;
    const value = values[row] as number;
    const code = said[value] as number;
    if (code === IS_PEER || vouched[peer] === 0) codes[row] = peer;
    else if (code >= 0) codes[row] = code;
    else if (code === A_WALK) walks.add(row, peer, value);
  }
  return codes;
}

/** The addresses that values say by themselves, and for each value the code of its own, counted from `first` on. */
function codedPlain(plain: Float64Array, first: number): { readonly four: Uint32Array; readonly codes: Int32Array } {
  const four = new Uint32Array(plain.length);
  const codes = new Int32Array(plain.length);
  let count = 0;
  for (let value = 0; value < plain.length; value++) {
    const said = plain[value] as number;
    codes[value] = said < 0 ? said : first + count;
    if (said >= 0) four[count++] = said;
  }
  return { four: four.subarray(0, count), codes };
}

/** Whether each peer may name a client other than itself. */
function vouchedPeers(peers: AddressColumn, { trusted }: ClientTrust): Uint8Array {
  const vouched = new Uint8Array(addressCodes(peers));
  for (let code = 1; code < vouched.length; code++)
    vouched[code] = setContains(trusted, addressOf(peers, code) as Address) ? 1 : 0;
  return vouched;
}

/** The clients of one header's values, by their codes, when no other column matters. `Forwarded` is never an address. */
function plainBytes(table: ColumnTable, [header, ...others]: readonly string[]): Float64Array | undefined {
  const bytes = textColumn(table, `header.${header}`)?.bytes;
  if (bytes === undefined || others.length > 0 || header === 'forwarded' || table.columns.has(ALL_HEADERS))
    return undefined;
  const plain = new Float64Array(bytes.ends.length + 1);
  plain[0] = NOT_LOGGED;
  for (let code = 1, start = 0; code < plain.length; code++) {
    const end = bytes.ends[code - 1] as number;
    const value = readFour(bytes.texts, start, end);
    plain[code] = value < 0 ? A_WALK : value;
    start = end;
  }
  return plain;
}

type HeaderFields = Pick<Request, 'headers' | 'allHeaders'>;

/** The same for several headers together. */
function plainTexts(values: Combinations, headersAt: (number: number) => HeaderFields): Float64Array {
  const plain = new Float64Array(values.count);
  for (let number = 0; number < plain.length; number++) plain[number] = plainOf(headersAt(number));
  return plain;
}

function plainOf({ headers, allHeaders }: HeaderFields): number {
  const present = [...headers].filter(([, values]) => values !== undefined && values.length > 0);
  if (present.length === 0) return headers.size > 0 || allHeaders ? IS_PEER : NOT_LOGGED;
  const [name, values] = present[0] as [string, readonly string[]];
  const isAddress = present.length === 1 && name !== 'forwarded' && values.length === 1;
  const address = isAddress ? parseAddress(values[0] as string) : undefined;
  return address?.family === 4 ? address.value : A_WALK;
}

/** The texts of the headers' columns, and of the column behind them. */
function headersOf(texts: readonly (string | undefined)[], headers: readonly string[]): HeaderFields {
  const found = headers.flatMap((header, at) =>
    texts[at] === undefined ? [] : [[header, unpackValues(texts[at])] as const],
  );
  return { headers: new Map(found), allHeaders: texts[headers.length] !== undefined };
}

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
