import type { TextBytes } from './column.js';
import { slotFor, slotsOf } from './hash.js';

/**
 * Numbers distinct runs of bytes, from 0, in the order in which they come, and keeps them one behind the other, as
 * dictionaries are stored. Who has the bytes at hand makes their hash while going over them.
 */
export class TextArena {
  #slots: Int32Array = new Int32Array(64).fill(-1);
  #hashes = new Int32Array(32);
  #ends = new Uint32Array(32);
  #texts = new Uint8Array(512);
  #ownView = viewOf(this.#texts);
  #viewed: Uint8Array | undefined;
  #view = this.#ownView;
  #count = 0;
  #length = 0;

  get count(): number {
    return this.#count;
  }

  /** In bytes, of all texts together. */
  get length(): number {
    return this.#length;
  }

  /** The number of the bytes from `start` to before `end`; a new one where it does not have them. */
  number(bytes: Uint8Array, start: number, end: number, hash: number): number {
    if (bytes !== this.#viewed) this.#look(bytes);
    const slots = this.#slots;
    const hashes = this.#hashes;
    const ends = this.#ends;
    const mask = slots.length - 1;
    const length = end - start;
    let slot = slotFor(hash, slots.length);
    for (let number = slots[slot] as number; number >= 0; number = slots[slot] as number) {
      if (hashes[number] === hash) {
        const known = number === 0 ? 0 : (ends[number - 1] as number);
        if ((ends[number] as number) - known === length && this.#equals(known, bytes, start, length)) return number;
      }
      slot = (slot + 1) & mask;
    }
    return this.#add(slot, bytes, start, end, hash);
  }

  /** Four bytes are looked at together. */
  #equals(known: number, bytes: Uint8Array, start: number, length: number): boolean {
    const own = this.#ownView;
    const other = this.#view;
    const texts = this.#texts;
    let at = 0;
    for (; at + 4 <= length; at += 4) if (own.getInt32(known + at) !== other.getInt32(start + at)) return false;
    for (; at < length; at++) if (texts[known + at] !== bytes[start + at]) return false;
    return true;
  }

  #look(bytes: Uint8Array): void {
    this.#viewed = bytes;
    this.#view = viewOf(bytes);
  }

  /** The texts so far; a copy. */
  bytes(): TextBytes {
    return { texts: this.#texts.slice(0, this.#length), ends: this.#ends.slice(0, this.#count) };
  }

  #add(slot: number, bytes: Uint8Array, start: number, end: number, hash: number): number {
    const number = this.#count++;
    while (this.#length + end - start > this.#texts.length) {
      this.#texts = grown(this.#texts, Uint8Array);
      this.#ownView = viewOf(this.#texts);
    }
    for (let at = start; at < end; at++) this.#texts[this.#length++] = bytes[at] as number;
    this.#slots[slot] = number;
    this.#hashes[number] = hash;
    this.#ends[number] = this.#length;
    if (this.#count * 2 >= this.#slots.length) this.#grow();
    return number;
  }

  #grow(): void {
    this.#hashes = grown(this.#hashes, Int32Array);
    this.#ends = grown(this.#ends, Uint32Array);
    this.#slots = slotsOf(this.#hashes, this.#count, this.#slots.length * 2);
  }
}

function grown<T extends Int32Array | Uint32Array | Uint8Array>(from: T, type: new (length: number) => T): T {
  const larger = new type(from.length * 2);
  larger.set(from);
  return larger;
}

const viewOf = (bytes: Uint8Array): DataView => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
