import type { Verdict } from '../../policy/index.js';
import type { Shared } from '../report.js';
import { compareKeys, type Key } from './counts.js';

/** Counts verdicts by a key such as the host, up to so many keys. */
export class ShareTally {
  readonly #shares = new Map<Key, { -readonly [K in keyof Shared]: number }>();
  readonly #most: number;
  #beyond = 0;

  constructor(most: number) {
    this.#most = most;
  }

  /** How many requests had a key that found no room. */
  get beyond(): number {
    return this.#beyond;
  }

  add(key: Key, outcome: Verdict | 'uncovered'): void {
    let share = this.#shares.get(key);
    if (!share) {
      if (this.#shares.size >= this.#most) {
        this.#beyond++;
        return;
      }
      share = { requests: 0, allow: 0, block: 0, uncovered: 0 };
      this.#shares.set(key, share);
    }
    share.requests++;
    share[outcome]++;
  }

  shares(): [Key, Shared][] {
    return [...this.#shares].sort(([a, x], [b, y]) => y.requests - x.requests || compareKeys(a, b));
  }
}
