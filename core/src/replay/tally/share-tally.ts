import { VERDICTS, type Verdict } from '../../policy/index.js';
import type { Shared } from '../report.js';
import { compareKeys, type Key } from './counts.js';

/** The verdicts by number, and behind them that no policy covers the request. */
export const ANSWERS = [...VERDICTS, 'uncovered'] as const;
export const UNCOVERED_ANSWER = VERDICTS.length;
const WIDTH = ANSWERS.length;

/** Counts verdicts by a key such as the host, up to so many keys. */
export class ShareTally {
  readonly #numbers = new Map<Key, number>();
  readonly #most: number;
  #counts = new Float64Array(WIDTH * 64);
  #beyond = 0;

  constructor(most: number) {
    this.#most = most;
  }

  /** How many requests had a key that found no room. */
  get beyond(): number {
    return this.#beyond;
  }

  /** The number to count a key under; -1 where there is no room for it. */
  number(key: Key): number {
    let number = this.#numbers.get(key);
    if (number !== undefined) return number;
    if (this.#numbers.size >= this.#most) return -1;
    number = this.#numbers.size;
    this.#numbers.set(key, number);
    if ((number + 1) * WIDTH > this.#counts.length) {
      const counts = new Float64Array(this.#counts.length * 2);
      counts.set(this.#counts);
      this.#counts = counts;
    }
    return number;
  }

  /** Counts one of the answer, by its place in `ANSWERS`, under the number of a key. */
  add(number: number, answer: number, times = 1): void {
    if (number < 0) this.#beyond += times;
    else this.#counts[number * WIDTH + answer] = (this.#counts[number * WIDTH + answer] as number) + times;
  }

  /** Counts an answer for each row, under the key that the row's code stands for. */
  addCoded(codes: ArrayLike<number>, keyOf: (code: number) => Key, answers: Uint8Array): void {
    /** By code, from -1 on, the number of its key from 1; 0 where it was not asked for yet. */
    let numbers = new Int32Array(1024);
    let counts = this.#counts;
    for (let at = 0; at < answers.length; at++) {
      const code = (codes[at] as number) + 1;
      let number = code < numbers.length ? (numbers[code] as number) : 0;
      if (number === 0) {
        if (code >= numbers.length) numbers = longer(numbers, code + 1);
        number = this.number(keyOf(code - 1)) + 1;
        counts = this.#counts;
        // A key without room has the number 0, and is asked for again each time.
        numbers[code] = number;
        if (number === 0) {
          this.#beyond++;
          continue;
        }
      }
      const place = (number - 1) * WIDTH + (answers[at] as number);
      counts[place] = (counts[place] as number) + 1;
    }
  }

  shares(): [Key, Shared][] {
    const found = [...this.#numbers].map(([key, number]): [Key, Shared] => {
      const counts = this.#counts.subarray(number * WIDTH, (number + 1) * WIDTH);
      const byAnswer = Object.fromEntries(ANSWERS.map((answer, at) => [answer, counts[at]])) as Record<
        Verdict | 'uncovered',
        number
      >;
      return [key, { requests: counts.reduce((sum, each) => sum + each, 0), ...byAnswer }];
    });
    return found
      .filter(([, share]) => share.requests > 0)
      .sort(([a, x], [b, y]) => y.requests - x.requests || compareKeys(a, b));
  }
}

function longer(numbers: Int32Array, atLeast: number): Int32Array<ArrayBuffer> {
  const larger = new Int32Array(Math.max(atLeast, numbers.length * 2));
  larger.set(numbers);
  return larger;
}
