import type { KernelCalls } from '../calls.js';
import type { PlainMemory } from './plain-memory.js';

type ArenaCalls = Pick<
  KernelCalls,
  'newArena' | 'releaseArena' | 'arenaCount' | 'arenaLength' | 'intern' | 'internRows' | 'internRuns' | 'slotOf'
>;

interface Arena {
  readonly numbers: Map<string, number>;
  length: number;
}

function numberOf(arena: Arena, bytes: Uint8Array): number {
  const text = Array.from(bytes, (byte) => String.fromCharCode(byte)).join('');
  let number = arena.numbers.get(text);
  if (number === undefined) {
    number = arena.numbers.size;
    arena.numbers.set(text, number);
    arena.length += bytes.length;
  }
  return number;
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
      let start = 0;
      for (let at = 0; at < count; at++) {
        const end = memory.words(ends, count)[at] as number;
        memory.words(ids, count)[at] = numberOf(arenaOf(arena), memory.bytes(texts + start, end - start)) + 1;
        start = end;
      }
    },
    internRuns(arena, bytes, seen, field, starts, lengths, count, ids) {
      const valueAt = (pointer: number, at: number) => memory.words(pointer, count)[at] as number;
      for (let at = 0; at < count; at++) {
        const has = (valueAt(seen, at) & (1 << field)) !== 0;
        const text = has ? memory.bytes(bytes + valueAt(starts, at), valueAt(lengths, at)) : undefined;
        memory.ints(ids, count)[at] = text ? numberOf(arenaOf(arena), text) : -1;
      }
    },
  };
}
