import { HASH_START, hashWord, slotFor, slotsOf } from './hash.js';

/**
 * Numbers distinct rows of words, from 0, in the order in which they come. Each row has the same number of words; the
 * table grows as needed.
 */
export class WordTable {
  readonly width: number;
  #rows: Uint32Array;
  #hashes: Int32Array;
  #slots: Int32Array;
  #count = 0;

  constructor(width: number, expected = 16) {
    this.width = width;
    const slots = 2 ** Math.ceil(Math.log2(Math.max(16, expected) * 2));
    this.#slots = new Int32Array(slots).fill(-1);
    this.#rows = new Uint32Array((slots / 2) * width);
    this.#hashes = new Int32Array(slots / 2);
  }

  get count(): number {
    return this.#count;
  }

  /** All rows, one behind the other. It is replaced when the table grows, so it is not to be kept. */
  get rows(): Uint32Array {
    return this.#rows;
  }

  /** The number of the row that starts at `from` in `words`; a new one where the table does not have it. */
  number(words: Uint32Array | Int32Array, from = 0): number {
    let hash = HASH_START;
    for (let at = 0; at < this.width; at++) hash = hashWord(hash, words[from + at] as number);
    return this.numberHashed(words, from, hash);
  }

  /** As `number`, with a hash of the row that the caller made; one table takes hashes of one making only. */
  numberHashed(words: Uint32Array | Int32Array, from: number, hash: number): number {
    const mask = this.#slots.length - 1;
    let slot = slotFor(hash, this.#slots.length);
    for (let number = this.#slots[slot] as number; number >= 0; number = this.#slots[slot] as number) {
      if (this.#hashes[number] === hash && this.#equals(number, words, from)) return number;
      slot = (slot + 1) & mask;
    }
    return this.#add(words, from, slot, hash);
  }

  #equals(number: number, words: Uint32Array | Int32Array, from: number): boolean {
    const { width } = this;
    const rows = this.#rows;
    for (let at = 0, row = number * width; at < width; at++, row++)
      if (rows[row] !== (words[from + at] as number) >>> 0) return false;
    return true;
  }

  #add(words: Uint32Array | Int32Array, from: number, slot: number, hash: number): number {
    const number = this.#count++;
    const { width } = this;
    for (let at = 0; at < width; at++) this.#rows[number * width + at] = words[from + at] as number;
    this.#hashes[number] = hash;
    this.#slots[slot] = number;
    if (this.#count * 2 >= this.#slots.length) this.#grow();
    return number;
  }

  #grow(): void {
    const rows = new Uint32Array(this.#rows.length * 2);
    rows.set(this.#rows);
    this.#rows = rows;
    const hashes = new Int32Array(this.#hashes.length * 2);
    hashes.set(this.#hashes);
    this.#hashes = hashes;
    this.#slots = slotsOf(hashes, this.#count, this.#slots.length * 2);
  }
}
