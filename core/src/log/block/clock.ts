import { parseTime } from '../../text/time.js';

const ZERO = 48;
/** `2026-11-09T00:17`, which many lines behind each other have in common. */
const MINUTE = 16;
/** How long a time is to the second, and to the millisecond. */
export const WITH_SECONDS = 20;
export const WITH_MILLISECONDS = 24;

/** Reads times of RFC 3339 in UTC from the bytes of a block; others are NaN, and left to who reads all of them. */
export class BlockClock {
  readonly #bytes: Uint8Array;
  /** Where the last minute was read, and the instant that it is. */
  #known = -1;
  #minute = Number.NaN;

  constructor(bytes: Uint8Array) {
    this.#bytes = bytes;
  }

  /** Milliseconds since 1970 of `YYYY-MM-DDTHH:MM:SSZ`, with or without milliseconds. */
  read(start: number, end: number): number {
    const bytes = this.#bytes;
    const length = end - start;
    if ((length !== WITH_SECONDS && length !== WITH_MILLISECONDS) || bytes[end - 1] !== 90) return Number.NaN;
    if (!this.#isKnown(start)) this.#learn(start);
    const seconds = this.#digits(start + 17, 2);
    if (bytes[start + 16] !== 58 || seconds > 59) return Number.NaN;
    if (length === WITH_SECONDS) return this.#minute + seconds * 1000;
    return bytes[start + 19] === 46 ? this.#minute + seconds * 1000 + this.#digits(start + 20, 3) : Number.NaN;
  }

  #isKnown(start: number): boolean {
    const bytes = this.#bytes;
    const known = this.#known;
    if (known < 0) return false;
    for (let at = MINUTE - 1; at >= 0; at--) if (bytes[known + at] !== bytes[start + at]) return false;
    return true;
  }

  #learn(start: number): void {
    const text = String.fromCharCode(...this.#bytes.subarray(start, start + MINUTE));
    this.#minute = parseTime(`${text}:00Z`) ?? Number.NaN;
    this.#known = start;
  }

  /** The number of this many digits; NaN when one is not a digit. */
  #digits(start: number, count: number): number {
    let number = 0;
    for (let at = start; at < start + count; at++) {
      const digit = (this.#bytes[at] as number) - ZERO;
      if (digit < 0 || digit > 9) return Number.NaN;
      number = number * 10 + digit;
    }
    return number;
  }
}
