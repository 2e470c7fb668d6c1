import type { ColumnTable } from '../column/index.js';
import { addressesIn, allRows, combine, createRouter, type Prepared, pairs, type Router } from '../engine/index.js';
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
    const rows = allRows(table.rows);
    const numbers = new Int32Array(table.rows);
    const hosts = combine(table, ['host'], rows);
    const byHost = hosts.texts.map(([host]) =>
      this.#number(host === undefined ? undefined : this.#router.byHost(host)),
    );
    let left = 0;
    for (let row = 0; row < rows.length; row++) {
      const number = byHost[hosts.codes[row] as number] as number;
      numbers[row] = number;
      // Those that no host sends to a policy are gathered in front.
      if (number === NO_POLICY) rows[left++] = row;
    }
    this.#byClient(table, rows.subarray(0, left), numbers);
    return numbers;
  }

  #byClient(table: ColumnTable, rows: Uint32Array, into: Int32Array): void {
    const headers = this.#headers.filter((header) => table.columns.has(`header.${header}`));
    const peers = addressesIn(table, 'peer', rows);
    const values = combine(
      table,
      headers.map((header) => `header.${header}`),
      rows,
    );
    const { codes, first } = pairs(peers.codes, peers.count, values.codes, values.texts.length);
    const policies = first.map((at) => {
      const texts = values.texts[values.codes[at] as number] ?? [];
      const told = headers.flatMap((header, place) =>
        texts[place] === undefined ? [] : [[header, texts[place]] as const],
      );
      const request = makeRequest({ peer: peers.at(peers.codes[at] as number), headers: new Map(told) });
      return this.#number(this.#router.byClient(request));
    });
    for (let at = 0; at < rows.length; at++) into[rows[at] as number] = policies[codes[at] as number] as number;
  }

  #number(policy: Policy | undefined): number {
    return policy === undefined ? NO_POLICY : (this.#numbers.get(policy) as number);
  }
}
