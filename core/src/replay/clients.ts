import {
  type AddressColumn,
  type AddressDictionary,
  addressCodes,
  type ColumnTable,
  codeOffsets,
  gathered,
  joinDictionaries,
} from '../column/index.js';
import { type Clients, classesOf, type Prepared, wholeColumn } from '../engine/index.js';
import type { ClientTrust } from '../request/index.js';
import { type ClientColumn, clientsByHeaders } from './client-column.js';

/** The clients of a chunk's rows, in each way in which policies take them: each way is gone through once. */
export class ChunkClients {
  /** The peers of the connections. */
  readonly peers: ClientColumn;
  readonly #table: ColumnTable;
  readonly #prepared: Prepared;
  readonly #column: AddressColumn;
  readonly #ways = new Map<ClientTrust, ClientColumn>();

  constructor(table: ColumnTable, prepared: Prepared) {
    this.#table = table;
    this.#prepared = prepared;
    this.#column = wholeColumn(table, 'peer');
    this.peers = { codes: this.#column.codes, dictionaries: [this.#column] };
  }

  /** The client of each row of the chunk, by the peer and the headers that may name it. */
  way(trust: ClientTrust): ClientColumn {
    let way = this.#ways.get(trust);
    if (way === undefined) {
      way = trust.headers.length === 0 ? this.peers : clientsByHeaders(this.#table, this.#column, trust);
      this.#ways.set(trust, way);
    }
    return way;
  }

  /** The clients as these policies take them, by one dictionary; with `peers` those of requests that none covers too. */
  joined(policies: readonly string[], peers: boolean): JoinedClients {
    const { trust, shared } = this.#prepared;
    const ways = new Map(policies.map((name) => [name, this.way(trust.get(name) as ClientTrust)]));
    return new JoinedClients(this.peers, ways, peers, (all) => classesOf(all, shared().partition));
  }
}

/** Clients that several policies take from a chunk, by one dictionary, which is in order. It may have more than theirs. */
export class JoinedClients {
  readonly dictionary: AddressDictionary;
  /** The class of each code in the partition that policies share. */
  readonly classes: Int32Array;
  readonly #peers: ClientColumn;
  readonly #ways: ReadonlyMap<string, ClientColumn>;
  /** For each code of a way that of the dictionary; none where these are the same. */
  readonly #codes = new Map<ClientColumn, Uint32Array>();

  /** `ways` are those of policies. */
  constructor(
    peers: ClientColumn,
    ways: ReadonlyMap<string, ClientColumn>,
    withPeers: boolean,
    classes: (all: AddressDictionary) => Int32Array,
  ) {
    this.#peers = peers;
    this.#ways = ways;
    const used = new Set(withPeers ? [...ways.values(), peers] : ways.values());
    const all = [...new Set([...used].flatMap(({ dictionaries }) => dictionaries))];
    // A column's own dictionary is in order already.
    if (used.size === 1 && used.has(peers)) this.dictionary = all[0] as AddressDictionary;
    else {
      const joined = joinDictionaries(all);
      const offsets = codeOffsets(all);
      for (const way of used)
        this.#codes.set(
          way,
          codesOf(way, joined.codes, (each) => offsets[all.indexOf(each)] as number),
        );
      this.dictionary = joined;
    }
    this.classes = classes(this.dictionary);
  }

  /** The clients of the rows as the policy takes them. */
  of(policy: string, rows: Uint32Array): Clients {
    return {
      dictionary: this.dictionary,
      codes: this.#of(this.#ways.get(policy) as ClientColumn, rows),
      classes: this.classes,
    };
  }

  /** The codes of the rows' peers. */
  peers(rows: Uint32Array): Uint32Array {
    return this.#of(this.#peers, rows);
  }

  #of(way: ClientColumn, rows: Uint32Array): Uint32Array {
    const codes = this.#codes.get(way);
    return codes ? through(way.codes, rows, codes) : gathered(way.codes, rows);
  }
}

/** Maps the codes of a way to codes of the joined dictionary, in which `offsetOf` is the start of each part. */
function codesOf(
  { dictionaries }: ClientColumn,
  joined: Uint32Array,
  offsetOf: (dictionary: AddressDictionary) => number,
): Uint32Array {
  const sizes = dictionaries.map((each) => addressCodes(each) - 1);
  const codes = new Uint32Array(1 + sizes.reduce((sum, size) => sum + size, 0));
  let at = 1;
  for (const [index, each] of dictionaries.entries()) {
    const from = offsetOf(each) + 1;
    codes.set(joined.subarray(from, from + (sizes[index] as number)), at);
    at += sizes[index] as number;
  }
  return codes;
}

/** The clients behind the codes of the rows. */
function through(codes: Uint32Array, rows: Uint32Array, standing: Uint32Array): Uint32Array {
  const found = new Uint32Array(rows.length);
  for (let at = 0; at < found.length; at++) found[at] = standing[codes[rows[at] as number] as number] as number;
  return found;
}
