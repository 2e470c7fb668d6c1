import fc from 'fast-check';
import { expect, it } from 'vitest';
import { hostileText } from '../hostile/text.arbitrary.js';
import { Kernel } from '../kernel/index.js';
import { TextColumnBuilder } from './builder.js';
import type { TextColumn } from './column.js';
import { HASH_START, hashWord, seedHashes, slotFor } from './hash.js';
import { ChunkTexts, NOT_KNOWN_BY_ID, NumbersById, type TextIds, TextInterners } from './text-interner.js';

function columnOf(texts: readonly string[]): TextColumn {
  const builder = new TextColumnBuilder(texts.length);
  for (const [row, text] of texts.entries()) builder.set(row, text);
  return builder.build(texts.length);
}

const idsOf = (interners: TextInterners, column: TextColumn): TextIds =>
  new ChunkTexts({ rows: column.codes.length, columns: new Map([['path', column]]) }, interners).ids('path') as TextIds;

it('texts have one id in all chunks, and no two texts the same', () => {
  fc.assert(
    fc.property(fc.array(fc.array(hostileText, { maxLength: 20 }), { minLength: 1, maxLength: 4 }), (chunks) => {
      const interners = new TextInterners(new Kernel());
      const known = new Map<string, number>();
      for (const texts of chunks) {
        const column = columnOf(texts);
        const { ids, count } = idsOf(interners, column);
        expect(ids[0]).toBe(0);
        column.dictionary.forEach((text, at) => {
          const id = ids[at + 1] as number;
          expect(id).toBeGreaterThan(0);
          expect(id).toBeLessThan(count);
          expect(known.get(text) ?? id).toBe(id);
          known.set(text, id);
        });
      }
      expect(new Set(known.values()).size).toBe(known.size);
    }),
  );
});

it('a dictionary of texts has the ids that the same has as bytes', () => {
  const interners = new TextInterners(new Kernel());
  const column = columnOf(['/', '', '/é', '/\0']);
  const { dictionary, codes } = column;
  expect(idsOf(interners, { type: 'text', dictionary, codes }).ids).toEqual(idsOf(interners, column).ids);
});

it('what is known by id is forgotten when the ids begin anew', { timeout: 120_000 }, () => {
  const interners = new TextInterners(new Kernel());
  const numbers = new NumbersById();
  const one = columnOf(['/one']);
  const before = idsOf(interners, one);
  numbers.of(before)[before.ids[1] as number] = 7;
  expect(numbers.of(idsOf(interners, one))[1]).toBe(7);
  const many = Array.from({ length: 500_000 }, (_, at) => `/${at}`);
  for (let from = 0; from < many.length; from += 50_000) idsOf(interners, columnOf(many.slice(from, from + 50_000)));
  const after = idsOf(interners, columnOf(['/two']));
  expect(after.era).not.toBe(before.era);
  expect(numbers.of(after)[after.ids[1] as number]).toBe(NOT_KNOWN_BY_ID);
});

it('texts lie where the seeded hashes of all our tables put them, so that nobody can choose many for one slot', () => {
  const kernel = new Kernel();
  const byWords = (bytes: Uint8Array): number => {
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
    const whole = bytes.length >> 2;
    let hash = HASH_START;
    for (let at = 0; at < whole; at++) hash = hashWord(hash, view.getInt32(at * 4, true));
    const rest = bytes.subarray(whole * 4).reduce((sum, byte) => (sum << 8) | byte, bytes.length);
    return hashWord(hash, rest);
  };
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 40 }), fc.integer(), fc.integer(), (bytes, start, secret) => {
      kernel.reset();
      seedHashes(start, secret);
      const slot = kernel.calls.slotOf(kernel.put(bytes), bytes.length, 2 ** 15, start, secret);
      expect(slot).toBe(slotFor(byWords(bytes), 2 ** 15));
    }),
  );
  seedHashes(0x811c9dc5, 0);
});
