import { parseAddress } from '../address/index.js';
import type { ColumnTable } from '../column/index.js';
import { combine, createRouter, type Prepared, type Router } from '../engine/index.js';
import type { Policy } from '../policy/index.js';
import { makeRequest } from '../request/index.js';

/** The number of no policy. */
export const NO_POLICY = -1;

/** Sends the rows of chunks to the policies that cover them, each distinct host and client looked up once a chunk. */
export class Routing {
  readonly #router: Router;
  readonly #numbers: ReadonlyMap<Policy, number>;
  readonly #headers: readonly string[];

  constructor(prepared: Prepared, policies: readonly Policy[]) {
    this.#router = createRouter(prepared);
    this.#numbers = new Map(policies.map((policy, number) => [policy, number]));
    this.#headers = [...new Set([...prepared.trust.values()].flatMap(({ headers }) => headers))];
  }

  /** For each row of the chunk the number of its policy, or `NO_POLICY`. */
  route(table: ColumnTable): Int32Array {
    const rows = Uint32Array.from({ length: table.rows }, (_, row) => row);
    const numbers = new Int32Array(table.rows);
    const hosts = combine(table, ['host'], rows);
    const byHost = hosts.texts.map(([host]) =>
      this.#number(host === undefined ? undefined : this.#router.byHost(host)),
    );
    for (const row of rows) numbers[row] = byHost[hosts.codes[row] as number] as number;
    const left = rows.filter((row) => numbers[row] === NO_POLICY);
    const clients = combine(table, ['peer', ...this.#headers.map((header) => `header.${header}`)], left);
    const byClient = clients.texts.map(([peer, ...values]) => {
      const headers = this.#headers.flatMap((header, at) =>
        values[at] === undefined ? [] : [[header, values[at]] as const],
      );
      const request = makeRequest({
        peer: peer === undefined ? undefined : parseAddress(peer),
        headers: new Map(headers),
      });
      return this.#number(this.#router.byClient(request));
    });
    left.forEach((row, at) => {
      numbers[row] = byClient[clients.codes[at] as number] as number;
    });
    return numbers;
  }

  #number(policy: Policy | undefined): number {
    return policy === undefined ? NO_POLICY : (this.#numbers.get(policy) as number);
  }
}
