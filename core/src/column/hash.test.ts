import { afterEach, describe, expect, it } from 'vitest';
import { HASH_START, hashByte, hashWord, seedHashes, slotFor } from './hash.js';
import { AddressColumnBuilder, TextColumnBuilder } from './index.js';

afterEach(() => seedHashes(0x811c9dc5, 0));

const bytesHash = (text: string): number => {
  let hash = HASH_START;
  for (const byte of new TextEncoder().encode(text)) hash = hashByte(hash, byte);
  return hash;
};
const SLOTS = 2 ** 15;

/** How many of the texts fall into the fullest slot. */
function fullest(texts: readonly string[], slot: (text: string) => number): number {
  const counts = new Map<number, number>();
  for (const text of texts) counts.set(slot(text), (counts.get(slot(text)) ?? 0) + 1);
  return Math.max(...counts.values());
}

describe('hashes of what traffic brings', () => {
  it('spread texts that were chosen to fall into one slot, once the process has a secret', () => {
    const slot = (text: string) => slotFor(bytesHash(text), SLOTS);
    const aim = slot('agent');
    const chosen: string[] = [];
    for (let number = 0; chosen.length < 60; number++) {
      const text = `agent-${number}`;
      if (slot(text) === aim) chosen.push(text);
    }
    expect(fullest(chosen, slot)).toBe(60);
    seedHashes(0x1234567, 0x89abcdef);
    expect(fullest(chosen, slot)).toBeLessThan(4);
  });

  it('spread words of which pairs of differences undo each other in hashes that mix whole words', () => {
    // Blocks of two words that collide under any seed where a difference in the highest bit survives mixing.
    const texts = Array.from({ length: 2 ** 12 }, (_, choice) =>
      Array.from({ length: 12 }, (__, bit) => ((choice >> bit) & 1 ? [0x80000000, 0x80040000] : [0, 0])).flat(),
    );
    for (const seed of [0, 1, 0x7fffffff]) {
      seedHashes(seed, ~seed);
      const hashes = texts.map((words) => words.reduce((hash, word) => hashWord(hash, word), HASH_START));
      expect(new Set(hashes).size).toBeGreaterThan(texts.length * 0.99);
    }
  });

  it('never change what comes out', () => {
    const columns = () => {
      const texts = new TextColumnBuilder(500);
      const addresses = new AddressColumnBuilder(500);
      for (let row = 0; row < 500; row++) {
        texts.set(row, `text ${row % 37}`);
        addresses.set(row, { family: 6, words: [1, 2, row % 11, row % 7] });
      }
      return [texts.build(500).dictionary, texts.build(500).codes, addresses.build(500)];
    };
    const before = columns();
    seedHashes(77, 99);
    expect(columns()).toEqual(before);
  });
});
