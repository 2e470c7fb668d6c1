/*
 * Vectors of bits, one for each clause or rule, as 32-bit words: bit n of a vector is bit n % 32 of word n >> 5.
 */

/** How many 32-bit words hold this many bits; at least one. */
export const wordsFor = (bits: number): number => Math.max(1, (bits + 31) >> 5);

/** Sets the bit, which must be inside the vector. */
export function setVectorBit(vector: Uint32Array, bit: number): void {
  vector[bit >> 5] = (vector[bit >> 5] as number) | (1 << (bit & 31));
}

/** Clears the bit, which must be inside the vector. */
export function clearVectorBit(vector: Uint32Array, bit: number): void {
  vector[bit >> 5] = (vector[bit >> 5] as number) & ~(1 << (bit & 31));
}

/** True where the bit is set. */
export function hasVectorBit(vector: Uint32Array, bit: number): boolean {
  return ((vector[bit >> 5] as number) & (1 << (bit & 31))) !== 0;
}

/** The lowest bit that is set in the word, which is not 0, at the place in its vector. */
export const lowestBitOf = (word: number, at: number): number => (at << 5) + 31 - Math.clz32(word & -word);

/** The numbers of all bits that are set, in order. */
export function bitsIn(vector: Uint32Array): number[] {
  const found: number[] = [];
  for (let at = 0; at < vector.length; at++)
    for (let word = vector[at] as number; word !== 0; word &= word - 1) found.push(lowestBitOf(word, at));
  return found;
}

/** True where no bit is set. */
export const isEmptyVector = (vector: Uint32Array): boolean => vector.every((word) => word === 0);

/** How many bits of the word are set. */
export function bitCount(word: number): number {
  let count = 0;
  for (let left = word; left !== 0; left &= left - 1) count++;
  return count;
}
