import type { Kernel } from '../../kernel/index.js';
import { VERDICTS, type Verdict } from '../../policy/index.js';
import type { Breakdown, Share, Shared } from '../report.js';
import { compareKeys, type Key } from './counts.js';

/** The verdicts by number, and behind them that no policy covers the request. */
export const ANSWERS = [...VERDICTS, 'uncovered'] as const;
export const UNCOVERED_ANSWER = VERDICTS.length;
export const ANSWER_COUNT = ANSWERS.length;

/** Counts verdicts by a key such as the host, up to this many keys. */
export class ShareTally {
  readonly #numbers = new Map<Key, number>();
  readonly #keys: Key[] = [];
  readonly #most: number;
  #counts = new Float64Array(ANSWER_COUNT * 64);
  #beyond = 0;

  constructor(most = Number.POSITIVE_INFINITY) {
    this.#most = most;
  }

  /** Counts by answer, `ANSWER_COUNT` for each code from 0 on, under the key of the code. */
  addCounts(counts: Uint32Array, keyOf: (code: number) => Key): void {
    for (let code = 0, from = 0; from < counts.length; code++, from += ANSWER_COUNT) {
      let any = 0;
      for (let answer = 0; answer < ANSWER_COUNT; answer++) any |= counts[from + answer] as number;
      if (any === 0) continue;
      const number = this.#number(keyOf(code));
      for (let answer = 0; answer < ANSWER_COUNT; answer++) {
        const more = counts[from + answer] as number;
        if (number < 0) this.#beyond += more;
        else
          this.#counts[number * ANSWER_COUNT + answer] =
            (this.#counts[number * ANSWER_COUNT + answer] as number) + more;
      }
    }
  }

  /** All that was counted, in the order in which the keys came. */
  keyCounts(): { readonly keys: readonly Key[]; readonly counts: Uint32Array } {
    const { length } = this.#keys;
    return { keys: this.#keys, counts: Uint32Array.from(this.#counts.subarray(0, length * ANSWER_COUNT)) };
  }

  /** The keys with most requests, and how many more there are. */
  breakdown(shown: number): Breakdown {
    const shares = this.#keys.map((key, number) => shareOf(key, this.#counts, number));
    shares.sort((a, b) => b.requests - a.requests || compareKeys(a.key, b.key));
    return { rows: shares.slice(0, shown), more: Math.max(0, shares.length - shown), beyond: this.#beyond };
  }

  /** All keys, in their order as texts. */
  inOrder(): Breakdown {
    const rows = this.#keys.map((key, number) => shareOf(key, this.#counts, number));
    return { rows: rows.sort((a, b) => compareKeys(a.key, b.key)), more: 0, beyond: this.#beyond };
  }

  /** The number to count a key under; -1 where there is no room for it. */
  #number(key: Key): number {
    let number = this.#numbers.get(key);
    if (number !== undefined) return number;
    if (this.#keys.length >= this.#most) return -1;
    number = this.#keys.push(key) - 1;
    this.#numbers.set(key, number);
    this.#counts = roomFor(this.#counts, number);
    return number;
  }
}

/** The counts, with room for those of the number. */
export function roomFor(counts: Float64Array<ArrayBuffer>, number: number): Float64Array<ArrayBuffer> {
  if ((number + 1) * ANSWER_COUNT <= counts.length) return counts;
  const larger = new Float64Array(counts.length * 2);
  larger.set(counts);
  return larger;
}

/** The share of a value from its counts, which lie `ANSWER_COUNT` to a value. */
export function shareOf(key: Key, counts: Float64Array, number: number): Share {
  const own = counts.subarray(number * ANSWER_COUNT, (number + 1) * ANSWER_COUNT);
  const byAnswer = Object.fromEntries(ANSWERS.map((answer, at) => [answer, own[at]])) as Record<
    Verdict | 'uncovered',
    number
  >;
  const shared: Shared = { requests: own.reduce((sum, each) => sum + each, 0), ...byAnswer };
  return { key, ...shared };
}

/** Counts the answers of rows by their codes, which lie below `codeCount`; `ANSWER_COUNT` counts a code. */
export function countCoded(
  kernel: Kernel,
  codes: Uint32Array | Int32Array,
  codeCount: number,
  answers: Uint8Array,
): Uint32Array {
  const size = codeCount * ANSWER_COUNT;
  kernel.reset();
  const counts = kernel.take(size * 4);
  kernel.words(counts, size).fill(0);
  kernel.calls.countCoded(kernel.put(codes), kernel.put(answers), answers.length, ANSWER_COUNT, counts);
  return kernel.words(counts, size).slice();
}
