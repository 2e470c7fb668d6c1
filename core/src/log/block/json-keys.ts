import { HASH_START, hashByte, TextArena } from '../../column/index.js';

const QUOTE = 34;
const SPACE = 32;
const BACKSLASH = 92;
/** More distinct keys than this, and lines with new ones are left. */
const MOST_KEYS = 4096;
/** The place in front of the first key. */
export const FIRST_KEY = 0;

/**
 * Numbers the keys of objects that come at one place of the lines, by their bytes. Lines mostly have the same keys in the
 * same order, so that the key behind another is looked for where it was last.
 */
export class JsonKeys {
  readonly #bytes: Uint8Array;
  readonly #view: DataView;
  readonly #keys = new TextArena();
  readonly #learn: (name: string) => void;
  /** By key, the offset of its bytes, and their length. */
  readonly #start: number[] = [];
  readonly #length: number[] = [];
  /** By key, the key that came behind it last; from 1, and 0 for none. */
  readonly #next: number[] = [0];

  /** `learn` is called with each new key, in the order of their numbers. */
  constructor(bytes: Uint8Array, learn: (name: string) => void) {
    this.#bytes = bytes;
    this.#view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    this.#learn = learn;
  }

  /** The number of the key that begins there, behind its quote; below 0 where the line has to be left. */
  key(start: number, previous: number): number {
    const bytes = this.#bytes;
    const likely = (this.#next[previous] as number) - 1;
    if (likely >= 0 && this.#isAt(likely, start)) return likely;
    let hash = HASH_START;
    let end = start;
    for (let byte = bytes[end] as number; byte !== QUOTE; byte = bytes[++end] as number) {
      if (byte === BACKSLASH || byte < SPACE || byte >= 128) return -1;
      hash = hashByte(hash, byte);
    }
    if (this.#keys.count === MOST_KEYS) return -1;
    const key = this.#keys.number(bytes, start, end, hash);
    if (key === this.#start.length) {
      this.#start.push(start);
      this.#length.push(end - start);
      this.#next.push(0);
      this.#learn(String.fromCharCode(...bytes.subarray(start, end)));
    }
    this.#next[previous] = key + 1;
    return key;
  }

  /** The length of a key in bytes. */
  length(key: number): number {
    return this.#length[key] as number;
  }

  /** Whether the key is there, with its closing quote; compares four bytes at a time. */
  #isAt(key: number, start: number): boolean {
    const known = this.#start[key] as number;
    const length = (this.#length[key] as number) + 1;
    const bytes = this.#bytes;
    if (start + length > bytes.length) return false;
    let at = 0;
    for (; at + 4 <= length; at += 4)
      if (this.#view.getInt32(known + at) !== this.#view.getInt32(start + at)) return false;
    for (; at < length; at++) if (bytes[known + at] !== bytes[start + at]) return false;
    return true;
  }
}
