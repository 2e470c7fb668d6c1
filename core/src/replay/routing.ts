import { addressCodes, type ColumnTable, type RowKinds } from '../column/index.js';
import {
  allRows,
  type ChunkFacts,
  combine,
  createRouter,
  type Outbound,
  type Prepared,
  type Router,
} from '../engine/index.js';
import type { Policy } from '../policy/index.js';
import { addressIn, type ClientColumn } from './client-column.js';
import type { ChunkClients } from './clients.js';

/** The number of no policy. */
const NO_POLICY = -1;

/** The rows of a chunk by the policies that they go to, in order. */
export interface Routes {
  /** The rows that no policy covers. */
  readonly uncovered: Uint32Array;
  readonly byPolicy: readonly Uint32Array[];
}

/** All rows go to the only policy. */
export const allToOne = (rows: number): Routes => ({ uncovered: new Uint32Array(0), byPolicy: [allRows(rows)] });

/** A way in which policies take clients, with the clients of a chunk's rows taken so, each distinct one looked up once. */
class OutboundWay {
  readonly #outbound: Outbound;
  readonly #way: ClientColumn;
  readonly #numberOf: (policy: Policy | undefined) => number;
  /** For each code the rank of the policy that covers it, and its number. */
  readonly #ranks: Int32Array;
  readonly #numbers: Int32Array;

  constructor(outbound: Outbound, way: ClientColumn, numberOf: (policy: Policy | undefined) => number) {
    this.#outbound = outbound;
    this.#way = way;
    this.#numberOf = numberOf;
    const codes = way.dictionaries.reduce((sum, each) => sum + addressCodes(each) - 1, 1);
    this.#ranks = new Int32Array(codes).fill(UNKNOWN);
    this.#numbers = new Int32Array(this.#ranks.length);
  }

  /** Writes the policies of the rows where they rank above what was found for the rows so far. */
  route(rows: Uint32Array, numbers: Int32Array, ranks: Int32Array): void {
    const [{ codes }, ofCodes] = [this.#way, this.#ranks];
    for (let at = 0; at < rows.length; at++) {
      const row = rows[at] as number;
      const code = codes[row] as number;
      if (ofCodes[code] === UNKNOWN) this.#find(code);
      const rank = ofCodes[code] as number;
      if (rank <= (ranks[at] as number)) continue;
      ranks[at] = rank;
      numbers[row] = this.#numbers[code] as number;
    }
  }

  #find(code: number): void {
    const address = addressIn(this.#way, code);
    const found = address && this.#outbound.find(address);
    this.#ranks[code] = found?.rank ?? NOTHING;
    this.#numbers[code] = this.#numberOf(found?.policy);
  }
}

const UNKNOWN = -2;
const NOTHING = -1;

/** For each row a code, and for each code the number of a policy. */
interface CodedPolicies {
  readonly codes: Uint32Array;
  readonly numbers: Int32Array;
}

/** Sends the rows of chunks to the policies that cover them, each distinct host and client looked up once a chunk. */
export class Routing {
  readonly #router: Router;
  readonly #numbers: ReadonlyMap<Policy, number>;

  constructor(prepared: Prepared, policies: readonly Policy[]) {
    this.#router = createRouter(prepared);
    this.#numbers = new Map(policies.map((policy, number) => [policy, number]));
  }

  /** Sends each row of the chunk to its policy. */
  route({ table, kinds }: ChunkFacts, clients: ChunkClients): Routes {
    const { codes, numbers: byCode } = kinds.holds('host') ? this.#ofKinds(table, kinds) : this.#ofHosts(table);
    const numbers = new Int32Array(table.rows);
    const left = takeNumbers(codes, byCode, numbers);
    const ranks = new Int32Array(left.length).fill(NOTHING);
    for (const outbound of this.#router.outbound)
      new OutboundWay(outbound, clients.way(outbound.trust), this.#number).route(left, numbers, ranks);
    const [uncovered, ...byPolicy] = rowsBy(numbers, this.#numbers.size);
    return { uncovered: uncovered as Uint32Array, byPolicy };
  }

  /** The policies of hosts, by codes that the rows have. */
  #ofHosts(table: ColumnTable, rows = allRows(table.rows)): CodedPolicies {
    const hosts = combine(table, ['host'], rows);
    const numbers = new Int32Array(hosts.count);
    for (let code = 0; code < numbers.length; code++) numbers[code] = this.#ofHost(hosts.texts(code)[0]);
    return { codes: hosts.codes, numbers };
  }

  /** The same, by the kinds of the rows. */
  #ofKinds(table: ColumnTable, { codes, examples }: RowKinds): CodedPolicies {
    const ofHosts = this.#ofHosts(table, examples);
    return { codes, numbers: Int32Array.from(ofHosts.codes, (code) => ofHosts.numbers[code] as number) };
  }

  #ofHost(host: string | undefined): number {
    return this.#number(host === undefined ? undefined : this.#router.byHost(host));
  }

  readonly #number = (policy: Policy | undefined): number =>
    policy === undefined ? NO_POLICY : (this.#numbers.get(policy) as number);
}

/** Writes the numbers of the codes, and answers the rows that are left without a policy. */
function takeNumbers(codes: Uint32Array, byCode: Int32Array, numbers: Int32Array): Uint32Array {
  const left = new Uint32Array(codes.length);
  let count = 0;
  for (let row = 0; row < codes.length; row++) {
    const number = byCode[codes[row] as number] as number;
    numbers[row] = number;
    if (number === NO_POLICY) left[count++] = row;
  }
  return left.subarray(0, count);
}

/** The rows that go to no policy, then those of each policy. */
function rowsBy(numbers: Int32Array, policies: number): Uint32Array[] {
  const counts = new Uint32Array(policies + 1);
  for (let row = 0; row < numbers.length; row++) {
    const part = (numbers[row] as number) - NO_POLICY;
    counts[part] = (counts[part] as number) + 1;
  }
  const found = Array.from(counts, (count) => new Uint32Array(count));
  counts.fill(0);
  for (let row = 0; row < numbers.length; row++) {
    const part = (numbers[row] as number) - NO_POLICY;
    const count = counts[part] as number;
    (found[part] as Uint32Array)[count] = row;
    counts[part] = count + 1;
  }
  return found;
}
