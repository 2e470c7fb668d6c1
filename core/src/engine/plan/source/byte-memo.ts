import type { TextBytes } from '../../../column/index.js';
import { HASH_START, hashByte, slotFor } from '../../../column/index.js';

const MOST_TEXTS = 500_000;
const MOST_BYTES = 2 ** 26;

/**
 * Remembers the classes of texts by their bytes, so that texts of a stored dictionary need not be decoded to be found.
 * Empties itself when full, so that its memory is bounded.
 */
export class ByteMemo {
  #count = 0;
  #slots = new Int32Array(4096).fill(-1);
  #hashes = new Int32Array(2048);
  #ends = new Uint32Array(2049);
  #classes = new Int32Array(2048);
  #texts = new Uint8Array(2 ** 16);
  #ownView = new DataView(this.#texts.buffer);
  #viewed: Uint8Array | undefined;
  #view: DataView = this.#ownView;

  /** The class of the text of the number in a dictionary; −1 where it is not known. */
  find(bytes: TextBytes, number: number): number {
    const { texts } = bytes;
    const start = startOf(bytes, number);
    const end = bytes.ends[number] as number;
    const hash = this.#hashOf(texts, start, end);
    const mask = this.#slots.length - 1;
    let slot = slotFor(hash, this.#slots.length);
    for (let entry = this.#slots[slot] as number; entry >= 0; entry = this.#slots[slot] as number) {
      if (this.#hashes[entry] === hash && this.#equals(entry, texts, start, end)) return this.#classes[entry] as number;
      slot = (slot + 1) & mask;
    }
    return -1;
  }

  /** Remembers the class of a text that is not known. */
  add(bytes: TextBytes, number: number, classNumber: number): void {
    const { texts } = bytes;
    const start = startOf(bytes, number);
    const end = bytes.ends[number] as number;
    this.#add(texts.subarray(start, end), this.#hashOf(texts, start, end), classNumber);
  }

  #hashOf(texts: Uint8Array, start: number, end: number): number {
    this.#look(texts);
    let hash = HASH_START;
    for (let at = start; at < end; at++) hash = hashByte(hash, texts[at] as number);
    return hash;
  }

  /** Four bytes are looked at together. */
  #look(texts: Uint8Array): void {
    if (this.#viewed === texts) return;
    this.#viewed = texts;
    this.#view = new DataView(texts.buffer, texts.byteOffset, texts.byteLength);
  }

  #equals(entry: number, texts: Uint8Array, start: number, end: number): boolean {
    const from = this.#ends[entry] as number;
    if ((this.#ends[entry + 1] as number) - from !== end - start) return false;
    const view = this.#view;
    const ownView = this.#ownView;
    let at = start;
    let own = from;
    for (; at + 4 <= end; at += 4, own += 4)
      if (view.getUint32(at, true) !== ownView.getUint32(own, true)) return false;
    for (; at < end; at++, own++) if (texts[at] !== this.#texts[own]) return false;
    return true;
  }

  #add(text: Uint8Array, hash: number, made: number): void {
    const from = this.#ends[this.#count] as number;
    if (this.#count >= MOST_TEXTS || from + text.length > MOST_BYTES) {
      this.#clear();
      return;
    }
    while (from + text.length > this.#texts.length) {
      this.#texts = grown(this.#texts, new Uint8Array(this.#texts.length * 2));
      this.#ownView = new DataView(this.#texts.buffer);
    }
    this.#texts.set(text, from);
    const entry = this.#count++;
    this.#hashes[entry] = hash;
    this.#classes[entry] = made;
    this.#ends[entry + 1] = from + text.length;
    if (this.#count === this.#hashes.length) this.#grow();
    else this.#place(entry);
  }

  #place(entry: number): void {
    const hash = this.#hashes[entry] as number;
    const mask = this.#slots.length - 1;
    let slot = slotFor(hash, this.#slots.length);
    while ((this.#slots[slot] as number) >= 0) slot = (slot + 1) & mask;
    this.#slots[slot] = entry;
  }

  #grow(): void {
    const size = this.#hashes.length * 2;
    this.#hashes = grown(this.#hashes, new Int32Array(size));
    this.#classes = grown(this.#classes, new Int32Array(size));
    this.#ends = grown(this.#ends, new Uint32Array(size + 1));
    this.#slots = new Int32Array(size * 2).fill(-1);
    for (let entry = 0; entry < this.#count; entry++) this.#place(entry);
  }

  #clear(): void {
    this.#count = 0;
    this.#slots.fill(-1);
  }
}

const startOf = ({ ends }: TextBytes, number: number): number => (number === 0 ? 0 : (ends[number - 1] as number));

function grown<T extends Int32Array | Uint32Array | Uint8Array>(from: T, larger: T): T {
  larger.set(from as never);
  return larger;
}
