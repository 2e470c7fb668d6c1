import type { KernelCalls } from '../calls.js';
import type { PlainMemory } from './plain-memory.js';

type ArenaCalls = Pick<
  KernelCalls,
  'newArena' | 'releaseArena' | 'arenaCount' | 'arenaLength' | 'intern' | 'internRows' | 'slotOf'
>;

interface Arena {
  readonly numbers: Map<string, number>;
  length: number;
}

/** Arenas as maps by texts, of which each character is a byte. */
export function plainArenas(memory: PlainMemory): ArenaCalls {
  const arenas = new Map<number, Arena>();
  const arenaOf = (arena: number): Arena => arenas.get(arena) as Arena;
  let made = 0;
  return {
    newArena() {
      arenas.set(++made, { numbers: new Map(), length: 0 });
      return made;
    },
    releaseArena: (arena) => void arenas.delete(arena),
    arenaCount: (arena) => arenaOf(arena).numbers.size,
    arenaLength: (arena) => arenaOf(arena).length,
    // Maps have no slots of ours: the engine seeds their hashes itself.
    slotOf: () => 0,
    internRows(arena, columns, width, count, ids) {
      const { numbers } = arenaOf(arena);
      const places = memory.words(columns, width);
      for (let at = 0; at < count; at++) {
        const row = Array.from(places, (place) => memory.words(place, count)[at]).join();
        const number = numbers.get(row) ?? numbers.size;
        numbers.set(row, number);
        memory.words(ids, count)[at] = number;
      }
    },
    intern(arena, texts, ends, count, ids) {
      const known = arenaOf(arena);
      let start = 0;
      for (let at = 0; at < count; at++) {
        const end = memory.words(ends, count)[at] as number;
        const text = Array.from(memory.bytes(texts + start, end - start), (byte) => String.fromCharCode(byte)).join('');
        let number = known.numbers.get(text);
        if (number === undefined) {
          number = known.numbers.size;
          known.numbers.set(text, number);
          known.length += end - start;
        }
        memory.words(ids, count)[at] = number + 1;
        start = end;
      }
    },
  };
}
