/*
 * Hashes of what traffic brings. They begin with a secret that whoever runs the process sets at its start, so that nobody
 * can choose texts or addresses that fall into the same place of a table. A hash is never taken for equality. Numbers are
 * given in the order in which values come, so that results are the same whatever the secret is. A table that goes to other
 * threads and processes, in files that nobody else may read, takes its secrets along.
 */

/** Where hashes of bytes begin. */
export let HASH_START = 0x811c9dc5 | 0;
let secret = 0;

/** Sets the secrets of this thread's tables: two random whole numbers of 32 bits. To be called before any is made. */
export function seedHashes(start: number, spread: number): void {
  HASH_START = start | 0;
  secret = spread | 0;
}

/** The secrets as they were set, for loops that hash by themselves. */
export const hashSecrets = (): { readonly start: number; readonly spread: number } => ({
  start: HASH_START,
  spread: secret,
});

/** A hash that has taken one byte more (FNV-1a, 32 bits). */
export const hashByte = (hash: number, byte: number): number => Math.imul(hash ^ byte, 0x01000193);

/** The hash of the bytes from `start` to before `end`. */
export function hashBytes(bytes: Uint8Array, start: number, end: number): number {
  let hash = HASH_START;
  for (let at = start; at < end; at++) hash = hashByte(hash, bytes[at] as number);
  return hash;
}

/** A hash that has taken one word more, half by half, so that no difference of two words can undo another's. */
export function hashWord(hash: number, word: number): number {
  const half = Math.imul(hash ^ (word & 0xffff), 0x9e3779b1);
  return Math.imul(half ^ (half >>> 15) ^ (word >>> 16), 0x85ebca6b);
}

/** Where in a table of this many slots, a power of two, the search for a hash begins (the finaliser of MurmurHash3). */
export const slotFor = (hash: number, slots: number): number => slotBy(hash, secret, slots);

/** The same in a table that keeps the secret `spread` that it was made with, since it goes to other threads. */
export function slotBy(hash: number, spread: number, slots: number): number {
  let mixed = hash ^ spread;
  mixed = Math.imul(mixed ^ (mixed >>> 16), 0x85ebca6b);
  mixed = Math.imul(mixed ^ (mixed >>> 13), 0xc2b2ae35);
  return (mixed ^ (mixed >>> 16)) & (slots - 1);
}

/** Slots for this many entries by their hashes, as many as the size, a power of two; −1 is free. */
export function slotsOf(hashes: Int32Array, count: number, size: number): Int32Array {
  const slots = new Int32Array(size).fill(-1);
  const mask = size - 1;
  for (let entry = 0; entry < count; entry++) {
    let slot = slotFor(hashes[entry] as number, size);
    while ((slots[slot] as number) >= 0) slot = (slot + 1) & mask;
    slots[slot] = entry;
  }
  return slots;
}
