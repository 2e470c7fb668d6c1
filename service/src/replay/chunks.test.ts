import { describe, expect, it } from 'vitest';
import { opened, type PlacedChunk } from './chunks.js';

const chunks = Array.from({ length: 6 }, (_, number): PlacedChunk => {
  return { number, logId: 1, log: 'week', logChunk: number, rows: 10, before: number * 10 };
});

/** Opens chunks on request, and records which were begun. */
function opener() {
  const begun: number[] = [];
  const ends: ((value: number) => void)[] = [];
  const open = ({ number }: PlacedChunk) => {
    begun.push(number);
    return new Promise<number>((resolve) => {
      ends[number] = resolve;
    });
  };
  return { begun, end: (number: number) => ends[number]?.(number), open };
}

describe('chunks that are opened', () => {
  it('come in order, whichever is open first', async () => {
    const { begun, end, open } = opener();
    const all = opened(chunks, open);
    const first = all.next();
    end(0);
    expect((await first).value).toBe(0);
    const second = all.next();
    expect(begun).toEqual([0, 1, 2, 3]);
    for (const number of [3, 2, 1]) end(number);
    expect([(await second).value, (await all.next()).value]).toEqual([1, 2]);
  });

  it('are not opened beyond the first for who wants no more', async () => {
    const { begun, end, open } = opener();
    const all = opened(chunks, open);
    const first = all.next();
    end(0);
    await first;
    await all.return(undefined);
    expect(begun).toEqual([0]);
  });

  it('fail where they are, and those ahead of them that fail unseen disturb nobody', async () => {
    const failing = async ({ number }: PlacedChunk) => {
      if (number >= 2) throw new Error(`chunk ${number} is missing`);
      return number;
    };
    const seen: number[] = [];
    for await (const number of opened(chunks, failing)) {
      seen.push(number);
      if (number === 1) break;
    }
    expect(seen).toEqual([0, 1]);
    const all = opened(chunks, failing);
    await all.next();
    await all.next();
    await expect(all.next()).rejects.toThrow('chunk 2 is missing');
  });

  it('are none where there are none', async () => {
    expect((await opened([], async () => 1).next()).done).toBe(true);
  });
});
