import type { AskLimit, Judge, LimitKey, Unseen } from '../engine/index.js';
import { KeyPeaks, SlidingWindows } from '../limit/index.js';
import type { Rule } from '../policy/index.js';
import type { CountedLimit } from './tally/policy-tally.js';

/** Where a settled outcome is written: the place, among the policy's rows of a chunk, that waited for it. */
export type Settled = (chunk: number, at: number, outcome: number) => void;

/**
 * The rows of one policy whose outcome hangs on limits. They are gathered over the whole log, and settled in the order
 * of their times, ties in the order of the log; 32 bytes a row, and 4 more for each limit.
 */
export class PendingRows {
  readonly #judge: Judge;
  /** The rules with limits, and what counts for each. */
  readonly #rules: readonly CountedLimit[];
  #count = 0;
  #times = new Float64Array(1024);
  #bytes = new Float64Array(1024);
  #chunks = new Int32Array(1024);
  #places = new Int32Array(1024);
  #nodes = new Int32Array(1024);
  /** For each row and limit the number of its key; below 0, what of it was not seen. */
  #keys: Int32Array;
  readonly #keyNumbers = new Map<string, number>();
  readonly #keyTexts: string[] = [];
  readonly #unseenNumbers = new Map<string, number>();
  readonly #unseen: (readonly Unseen[])[] = [];

  constructor(judge: Judge) {
    this.#judge = judge;
    this.#rules = judge.plan.policy.rules.flatMap(({ limit }: Rule, index) => {
      if (limit === undefined) return [];
      const peaks = new KeyPeaks();
      return [{ index, limit, peaks, windows: new SlidingWindows({ ...limit, peaks }) }];
    });
    this.#keys = new Int32Array(1024 * this.#rules.length);
  }

  get limits(): readonly CountedLimit[] {
    return this.#rules;
  }

  /** Adds a row with its keys, one for each limit of `limits`. */
  add(chunk: number, place: number, node: number, keys: readonly LimitKey[]): void {
    if (this.#count === this.#places.length) this.#grow();
    const at = this.#count++;
    this.#times[at] = keys.find((key) => 'key' in key)?.time ?? Number.NEGATIVE_INFINITY;
    this.#chunks[at] = chunk;
    this.#places[at] = place;
    this.#nodes[at] = node;
    keys.forEach((key, limit) => {
      this.#keys[at * this.#rules.length + limit] =
        'key' in key ? this.#keyNumber(key.key) : -1 - this.#unseenNumber(key.unseen);
      if ('key' in key && this.#rules[limit]?.limit.counts === 'bytes') this.#bytes[at] = key.amount;
    });
  }

  /** Settles all rows, in the order of their times. */
  settle(settled: Settled): void {
    const order = Uint32Array.from({ length: this.#count }, (_, at) => at);
    const times = this.#times;
    // Most logs are in order, and then need no sorting.
    if (order.some((at) => at > 0 && (times[at] as number) < (times[at - 1] as number)))
      order.sort((a, b) => (times[a] as number) - (times[b] as number) || a - b);
    const places = new Map(this.#rules.map(({ index }, place) => [index, place]));
    const ask: AskLimit = (rule, _, { key, time, amount }) =>
      (this.#rules[places.get(rule) as number] as { windows: SlidingWindows }).windows.add(key, time, amount);
    for (const at of order) {
      const keyOf = (rule: number) => this.#key(at, places.get(rule) as number);
      settled(
        this.#chunks[at] as number,
        this.#places[at] as number,
        this.#judge.settle(this.#nodes[at] as number, keyOf, ask),
      );
    }
    this.#count = 0;
  }

  #key(at: number, place: number): LimitKey {
    const number = this.#keys[at * this.#rules.length + place] as number;
    if (number < 0) return { unseen: this.#unseen[-1 - number] as readonly Unseen[] };
    const amount = this.#rules[place]?.limit.counts === 'bytes' ? (this.#bytes[at] as number) : 1;
    return { key: this.#keyTexts[number] as string, time: this.#times[at] as number, amount };
  }

  #keyNumber(key: string): number {
    let number = this.#keyNumbers.get(key);
    if (number === undefined) {
      number = this.#keyTexts.push(key) - 1;
      this.#keyNumbers.set(key, number);
    }
    return number;
  }

  #unseenNumber(unseen: readonly Unseen[]): number {
    const key = unseen.join();
    let number = this.#unseenNumbers.get(key);
    if (number === undefined) {
      number = this.#unseen.push(unseen) - 1;
      this.#unseenNumbers.set(key, number);
    }
    return number;
  }

  #grow(): void {
    const grown = <T extends Float64Array | Int32Array>(array: T): T => {
      const larger = new (array.constructor as new (length: number) => T)(array.length * 2);
      larger.set(array as never);
      return larger;
    };
    this.#times = grown(this.#times);
    this.#bytes = grown(this.#bytes);
    this.#chunks = grown(this.#chunks);
    this.#places = grown(this.#places);
    this.#nodes = grown(this.#nodes);
    this.#keys = grown(this.#keys);
  }
}
