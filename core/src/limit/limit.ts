import type { FieldPlace } from '../condition/index.js';

/** More than a number of requests, or of bytes answered, within a span for each key. */
export interface Limit {
  /** What is counted: requests or bytes. */
  readonly moreThan: number;
  readonly counts: 'requests' | 'bytes';
  /** Milliseconds, up to `MOST_WITHIN`. */
  readonly within: number;
  /** The fields of the key; empty: all requests count together. */
  readonly per: readonly KeyPart[];
  /** For how long a key stays over behind the last time that it was, in milliseconds; 0: not at all. */
  readonly hold: number;
}

/** A field whose value is part of the key; for an address, its network when `prefix` gives a length in bits. */
export interface KeyPart extends FieldPlace {
  readonly prefix: number | undefined;
}

const SECOND = 1000;
const DAY = 86_400_000;
export const LEAST_SPAN = SECOND;
export const MOST_WITHIN = 7 * DAY;
export const MOST_HOLD = 31 * DAY;
export const MOST_REQUESTS = 10_000_000;
