import { mix } from './word-table.js';

const BITS_A_KEY = 10;
const PROBES = 5;

/**
 * A Bloom filter of rows of words (Bloom, "Space/time trade-offs in hash coding with allowable errors", 1970): tells of
 * a row that it is surely not there, or may be, wrongly of about one in a hundred.
 */
export function bloomOf(rows: Uint32Array, width: number): Uint8Array {
  const count = rows.length / width;
  const bits = new Uint8Array(Math.max(8, Math.ceil((count * BITS_A_KEY) / 8)));
  for (let from = 0; from < rows.length; from += width)
    eachBit(rows, from, width, bits.length * 8, (bit) => {
      bits[bit >> 3] = (bits[bit >> 3] as number) | (1 << (bit & 7));
    });
  return bits;
}

export function bloomMayHold(bits: Uint8Array, words: ArrayLike<number>): boolean {
  let all = true;
  eachBit(words, 0, words.length, bits.length * 8, (bit) => {
    if (((bits[bit >> 3] as number) & (1 << (bit & 7))) === 0) all = false;
  });
  return all;
}

/** Two hashes make as many as are needed (Kirsch and Mitzenmacher, 2006). */
function eachBit(
  words: ArrayLike<number>,
  from: number,
  width: number,
  size: number,
  take: (bit: number) => void,
): void {
  let [one, two] = [0x2f0b4c47, 0x1b873593];
  for (let at = from; at < from + width; at++) {
    one = mix(one, words[at] as number);
    two = mix(two, words[at] as number);
  }
  for (let probe = 0; probe < PROBES; probe++) take(((one + Math.imul(probe, two | 1)) >>> 0) % size);
}
