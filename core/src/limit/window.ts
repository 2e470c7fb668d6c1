import { TextMap } from '../column/index.js';
import type { KeyPeaks } from './curve.js';

export interface WindowOptions {
  readonly moreThan: number;
  /** Milliseconds. */
  readonly within: number;
  /** Milliseconds; 0: a key is over only while it is. */
  readonly hold: number;
  /** The most keys that are kept; beyond it the one that was seen least lately is forgotten. Default 1,000,000. */
  readonly mostKeys?: number;
  /** The most distinct instants that one key keeps; beyond it the oldest two are taken for one. Default 65,536. */
  readonly mostInstants?: number;
  /** The most instants of all keys together; beyond it the key that was seen least lately is forgotten. Default 16 Mi. */
  readonly mostInAll?: number;
  /** Where the highest sum of every key is noted. Default nowhere. */
  readonly peaks?: KeyPeaks | undefined;
}

const DEFAULTS = { mostKeys: 1_000_000, mostInstants: 65_536, mostInAll: 2 ** 24 };

/**
 * An exact sliding window for each key: over when the amounts within `(t − within, t]` sum to more than `moreThan`.
 * Times must not go back. Memory: at most `mostKeys` keys, and 16 bytes for each distinct instant of a key within the
 * span, at most `mostInstants` of a key and `mostInAll` of all; what is idle for longer than `within` and `hold` is
 * dropped. Sums are compared exactly as long as `moreThan` is a safe integer.
 */
export class SlidingWindows {
  readonly #options: WindowOptions & typeof DEFAULTS;
  readonly #keys = new TextMap<KeyWindow>();
  readonly #bySeen = new SeenOrder();
  readonly #over = new TextMap<OverKey>();
  #overKeys = 0;
  #instants = 0;

  constructor(options: WindowOptions) {
    this.#options = { ...DEFAULTS, ...options };
  }

  /** Counts an amount under the key at the time, in milliseconds; returns the key's state after that. */
  add(key: string, time: number, amount: number): boolean {
    return this.count(this.window(key, time), time, amount);
  }

  /** The state of the key at the time, without counting anything. */
  isOver(key: string, time: number): boolean {
    const window = this.#keys.get(key);
    if (window === undefined) return false;
    return window.sumAt(time, this.#options.within) > this.#options.moreThan || time < window.heldUntil;
  }

  /** The window of the key from the time on, until it is dropped; count in it before another key is used. */
  window(key: string, time: number): KeyWindow {
    const known = this.#keys.get(key);
    if (known) return known;
    this.#dropIdle(time);
    const window = new KeyWindow(key, this.#options.mostInstants);
    this.#keys.set(key, window);
    return window;
  }

  /** As `add`, in a window that is not forgotten. */
  count(window: KeyWindow, time: number, amount: number): boolean {
    const { moreThan, within, hold, peaks } = this.#options;
    this.#bySeen.saw(window);
    const before = window.instants;
    const sum = window.add(time, amount, within);
    this.#instants += window.instants - before;
    if (this.#instants > this.#options.mostInAll) this.#dropOldest(window);
    // A sum that is no higher than the noted one changes nothing.
    if (peaks && sum > window.notedPeak && peaks.note(window.key, sum)) window.notedPeak = sum;
    const over = sum > moreThan;
    if (over) {
      window.heldUntil = time + hold;
      this.#note(window, sum, time);
    }
    return over || time < window.heldUntil;
  }

  /** How many keys were ever over, and the worst of them with their peak, the highest first. */
  peaks(most: number): { readonly keys: number; readonly worst: readonly PeakKey[] } {
    const worst = [...this.#over.entries()].map(([key, over]): PeakKey => ({ key, ...over }));
    worst.sort((a, b) => b.peak - a.peak || (a.key < b.key ? -1 : 1));
    return { keys: this.#overKeys, worst: worst.slice(0, most) };
  }

  #note(window: KeyWindow, sum: number, time: number): void {
    const { key } = window;
    const known = this.#over.get(key);
    if (known === undefined) {
      if (!window.everOver) this.#overKeys++;
      // Keys beyond this many are counted but not listed.
      if (this.#over.size < MOST_LISTED) this.#over.set(key, { peak: sum, at: time });
    } else if (sum > known.peak) {
      this.#over.set(key, { peak: sum, at: time });
    }
    window.everOver = true;
  }

  /** Drops the keys that were seen least lately while they are idle or too many. */
  #dropIdle(time: number): void {
    const { within, hold, mostKeys } = this.#options;
    for (let window = this.#bySeen.first; window; window = this.#bySeen.first) {
      const idle = window.last + Math.max(within, hold) <= time;
      if (!idle && this.#keys.size < mostKeys) return;
      this.#forget(window);
    }
  }

  /** Drops the key that was seen least lately, but for the one at hand. */
  #dropOldest(kept: KeyWindow): void {
    const { first } = this.#bySeen;
    if (first && first !== kept) this.#forget(first);
  }

  #forget(window: KeyWindow): void {
    this.#bySeen.forget(window);
    this.#keys.delete(window.key);
    this.#instants -= window.instants;
    window.forgotten = true;
  }
}

const MOST_LISTED = 10_000;

interface OverKey {
  /** The highest sum within the span. */
  readonly peak: number;
  /** When it was reached, in milliseconds since 1970. */
  readonly at: number;
}

export interface PeakKey extends OverKey {
  readonly key: string;
}

/** Windows in the order in which they were seen last: a list through them, since a map is slow to put in another order. */
class SeenOrder {
  /** The one that was seen least lately. */
  first: KeyWindow | undefined;
  #last: KeyWindow | undefined;

  saw(window: KeyWindow): void {
    if (window === this.#last) return;
    this.forget(window);
    window.before = this.#last;
    if (this.#last) this.#last.after = window;
    else this.first = window;
    this.#last = window;
  }

  forget(window: KeyWindow): void {
    const { before, after } = window;
    if (before) before.after = after;
    else if (this.first === window) this.first = after;
    if (after) after.before = before;
    else if (this.#last === window) this.#last = before;
    window.before = undefined;
    window.after = undefined;
  }
}

/** The instants of one key within the span, in a ring that grows: the oldest goes out at the front. */
export class KeyWindow {
  readonly key: string;
  /** Whether its key would be counted anew, in another window. */
  forgotten = false;
  everOver = false;
  heldUntil = Number.NEGATIVE_INFINITY;
  /** The highest sum of this window that is noted elsewhere. */
  notedPeak = Number.NEGATIVE_INFINITY;
  /** Those that were seen before and after it, for `SeenOrder`. */
  before: KeyWindow | undefined;
  after: KeyWindow | undefined;
  // Most keys come up a few times only, and plain arrays of numbers are made faster than typed ones.
  #times = [Number.NaN, Number.NaN];
  #amounts = [Number.NaN, Number.NaN];
  #start = 0;
  #count = 0;
  #sum = 0;
  readonly #most: number;

  constructor(key: string, most: number) {
    this.key = key;
    this.#most = most;
  }

  /** How many instants it keeps. */
  get instants(): number {
    return this.#count;
  }

  /** The latest instant that was counted. */
  get last(): number {
    return this.#times[this.#at(this.#count - 1)] as number;
  }

  /** Counts the amount and answers the sum within the span that ends at the time. */
  add(time: number, amount: number, within: number): number {
    while (this.#count > 0 && (this.#times[this.#start] as number) <= time - within) {
      this.#sum -= this.#amounts[this.#start] as number;
      this.#start = this.#at(1);
      this.#count--;
    }
    const last = this.#at(this.#count - 1);
    if (this.#count > 0 && this.#times[last] === time) this.#amounts[last] = (this.#amounts[last] as number) + amount;
    else this.#push(time, amount);
    this.#sum += amount;
    // Beyond it sums are rounded, so that what is taken off again would be missed or remain: then all is added up anew.
    if (this.#sum > Number.MAX_SAFE_INTEGER) this.#sum = this.#total();
    return this.#sum;
  }

  /** The sum within the span that ends at the time, which is no earlier than what was counted. */
  sumAt(time: number, within: number): number {
    let sum = 0;
    for (let index = 0; index < this.#count; index++)
      if ((this.#times[this.#at(index)] as number) > time - within) sum += this.#amounts[this.#at(index)] as number;
    return sum;
  }

  #total(): number {
    let total = 0;
    for (let index = 0; index < this.#count; index++) total += this.#amounts[this.#at(index)] as number;
    return total;
  }

  #at(index: number): number {
    return (this.#start + index) & (this.#times.length - 1);
  }

  #push(time: number, amount: number): void {
    if (this.#count === this.#times.length) {
      if (this.#count < this.#most) this.#grow();
      else this.#joinOldest();
    }
    const at = this.#at(this.#count++);
    this.#times[at] = time;
    this.#amounts[at] = amount;
  }

  #grow(): void {
    const times: number[] = [];
    const amounts: number[] = [];
    for (let index = 0; index < this.#count; index++) {
      times.push(this.#times[this.#at(index)] as number);
      amounts.push(this.#amounts[this.#at(index)] as number);
    }
    for (let index = 0; index < this.#count; index++) {
      times.push(Number.NaN);
      amounts.push(Number.NaN);
    }
    this.#times = times;
    this.#amounts = amounts;
    this.#start = 0;
  }

  /** The oldest amount is counted as if it came with the next one: a little too long, never too short. */
  #joinOldest(): void {
    const second = this.#at(1);
    this.#amounts[second] = (this.#amounts[second] as number) + (this.#amounts[this.#start] as number);
    this.#start = second;
    this.#count--;
  }
}
