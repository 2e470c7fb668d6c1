const BITS_A_KEY = 10;
const PROBES = 5;

/**
 * A Bloom filter of rows of words (Bloom, "Space/time trade-offs in hash coding with allowable errors", 1970): a row
 * is surely not in it, or may be; about one row in a hundred is wrongly taken for one that may be.
 */
export function bloomOf(rows: Uint32Array, width: number): Uint8Array {
  const count = rows.length / width;
  const bits = new Uint8Array(Math.max(8, Math.ceil((count * BITS_A_KEY) / 8)));
  const size = bits.length * 8;
  for (let from = 0; from < rows.length; from += width) {
    const one = hashOf(ONE, rows, from, width);
    const two = hashOf(TWO, rows, from, width);
    for (let probe = 0; probe < PROBES; probe++) {
      const bit = bitOf(one, two, probe, size);
      bits[bit >> 3] = (bits[bit >> 3] as number) | (1 << (bit & 7));
    }
  }
  return bits;
}

/** False when the filter does not contain the value, given as 32-bit words; true when it may. */
export function bloomMayHold(bits: Uint8Array, words: ArrayLike<number>): boolean {
  const [one, two] = [hashOf(ONE, words, 0, words.length), hashOf(TWO, words, 0, words.length)];
  for (let probe = 0; probe < PROBES; probe++) {
    const bit = bitOf(one, two, probe, bits.length * 8);
    if (((bits[bit >> 3] as number) & (1 << (bit & 7))) === 0) return false;
  }
  return true;
}

const ONE = 0x2f0b4c47;
const TWO = 0x1b873593;

function hashOf(seed: number, words: ArrayLike<number>, from: number, width: number): number {
  let hash = seed;
  for (let at = from; at < from + width; at++) hash = mix(hash, words[at] as number);
  return hash;
}

/** Two hashes make as many as are needed (Kirsch and Mitzenmacher, 2006). */
const bitOf = (one: number, two: number, probe: number, size: number): number =>
  ((one + Math.imul(probe, two | 1)) >>> 0) % size;

/** Mixes a word into a hash (MurmurHash3's body). Filters are stored, so that this never changes. */
function mix(hash: number, word: number): number {
  let k = Math.imul(word, 0xcc9e2d51);
  k = (k << 15) | (k >>> 17);
  const h = hash ^ Math.imul(k, 0x1b873593);
  return (Math.imul((h << 13) | (h >>> 19), 5) + 0xe6546b64) | 0;
}
