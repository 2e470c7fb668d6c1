/* Runs of bytes, numbered from 0 in the order in which they come, one behind the other. */

const SLOTS: usize = 0;
const SLOT_COUNT: usize = 4;
const ENTRIES: usize = 8;
const TEXTS: usize = 12;
const ROOM: usize = 16;
const COUNT: usize = 20;
const LENGTH: usize = 24;
const HEAD: usize = 28;

const FIRST_SLOTS: u32 = 1024;
const FIRST_ROOM: u32 = 16384;
const FREE: i32 = -1;
/** The hash of a text, and where it ends. */
const ENTRY: usize = 8;

export function newArena(): usize {
  const arena = heap.alloc(HEAD);
  const slots = heap.alloc((<usize>FIRST_SLOTS) << 2);
  memory.fill(slots, 0xff, (<usize>FIRST_SLOTS) << 2);
  store<usize>(arena + SLOTS, slots);
  store<u32>(arena + SLOT_COUNT, FIRST_SLOTS);
  store<usize>(arena + ENTRIES, heap.alloc((<usize>FIRST_SLOTS >>> 1) * ENTRY));
  store<usize>(arena + TEXTS, heap.alloc(FIRST_ROOM));
  store<u32>(arena + ROOM, FIRST_ROOM);
  store<u32>(arena + COUNT, 0);
  store<u32>(arena + LENGTH, 0);
  return arena;
}

export function releaseArena(arena: usize): void {
  heap.free(load<usize>(arena + SLOTS));
  heap.free(load<usize>(arena + ENTRIES));
  heap.free(load<usize>(arena + TEXTS));
  heap.free(arena);
}

export function arenaCount(arena: usize): u32 {
  return load<u32>(arena + COUNT);
}

export function arenaLength(arena: usize): u32 {
  return load<u32>(arena + LENGTH);
}

export function intern(
  arena: usize,
  texts: usize,
  ends: usize,
  count: u32,
  ids: usize,
  hashStart: i32,
  secret: i32,
): void {
  let start: u32 = 0;
  for (let at: usize = 0; at < <usize>count; at++) {
    const end = load<u32>(ends + (at << 2));
    const text = texts + start;
    const length = end - start;
    store<u32>(ids + (at << 2), numberOf(arena, text, length, hashOf(text, length, hashStart), secret) + 1);
    start = end;
  }
}

function numberOf(arena: usize, text: usize, length: u32, hash: i32, secret: i32): u32 {
  const slots = load<usize>(arena + SLOTS);
  const entries = load<usize>(arena + ENTRIES);
  const known = load<usize>(arena + TEXTS);
  const mask = load<u32>(arena + SLOT_COUNT) - 1;
  let slot = mixed(hash, secret) & mask;
  while (true) {
    const number = load<i32>(slots + ((<usize>slot) << 2));
    if (number === FREE) return add(arena, slot, text, length, hash, secret);
    const entry = entries + <usize>number * ENTRY;
    if (load<i32>(entry) === hash) {
      const start = number === 0 ? 0 : load<u32>(entry - 4);
      if (load<u32>(entry + 4) - start === length && equal(known + start, text, length)) return number;
    }
    slot = (slot + 1) & mask;
  }
}

function add(arena: usize, slot: u32, text: usize, length: u32, hash: i32, secret: i32): u32 {
  const number = load<u32>(arena + COUNT);
  const start = load<u32>(arena + LENGTH);
  if (start + length > load<u32>(arena + ROOM)) makeRoom(arena, start + length);
  memory.copy(load<usize>(arena + TEXTS) + start, text, length);
  const entry = load<usize>(arena + ENTRIES) + <usize>number * ENTRY;
  store<i32>(entry, hash);
  store<u32>(entry + 4, start + length);
  store<u32>(load<usize>(arena + SLOTS) + ((<usize>slot) << 2), number);
  store<u32>(arena + COUNT, number + 1);
  store<u32>(arena + LENGTH, start + length);
  if ((number + 1) * 2 >= load<u32>(arena + SLOT_COUNT)) grow(arena, secret);
  return number;
}

function makeRoom(arena: usize, least: u32): void {
  let room = load<u32>(arena + ROOM);
  while (room < least) room <<= 1;
  store<usize>(arena + TEXTS, moved(load<usize>(arena + TEXTS), load<u32>(arena + LENGTH), room));
  store<u32>(arena + ROOM, room);
}

/** Twice as many slots, of which half are taken at most. */
function grow(arena: usize, secret: i32): void {
  const count = load<u32>(arena + COUNT);
  const size = load<u32>(arena + SLOT_COUNT) << 1;
  const bytes = <usize>count * ENTRY;
  store<usize>(arena + ENTRIES, moved(load<usize>(arena + ENTRIES), bytes, (<usize>size >>> 1) * ENTRY));
  heap.free(load<usize>(arena + SLOTS));
  const slots = heap.alloc((<usize>size) << 2);
  memory.fill(slots, 0xff, (<usize>size) << 2);
  const entries = load<usize>(arena + ENTRIES);
  for (let number: u32 = 0; number < count; number++) {
    let slot = mixed(load<i32>(entries + <usize>number * ENTRY), secret) & (size - 1);
    while (load<i32>(slots + ((<usize>slot) << 2)) !== FREE) slot = (slot + 1) & (size - 1);
    store<u32>(slots + ((<usize>slot) << 2), number);
  }
  store<usize>(arena + SLOTS, slots);
  store<u32>(arena + SLOT_COUNT, size);
}

function moved(from: usize, bytes: usize, room: usize): usize {
  const to = heap.alloc(room);
  memory.copy(to, from, bytes);
  heap.free(from);
  return to;
}

/** Word by word, with what is left and the length last; `hashWord` and `mixed` are those of `core/src/column/hash.ts`. */
function hashOf(text: usize, length: u32, hashStart: i32): i32 {
  let hash = hashStart;
  const end = text + length;
  let at = text;
  for (; at + 4 <= end; at += 4) hash = hashWord(hash, load<i32>(at));
  let rest: i32 = length;
  for (; at < end; at++) rest = (rest << 8) | <i32>load<u8>(at);
  return hashWord(hash, rest);
}

function hashWord(hash: i32, word: i32): i32 {
  const half: i32 = (hash ^ (word & 0xffff)) * 0x9e3779b1;
  return (half ^ (half >>> 15) ^ (word >>> 16)) * 0x85ebca6b;
}

/** The finaliser of MurmurHash3, with the process's secret. */
function mixed(hash: i32, secret: i32): u32 {
  let value: u32 = hash ^ secret;
  value = (value ^ (value >>> 16)) * 0x85ebca6b;
  value = (value ^ (value >>> 13)) * 0xc2b2ae35;
  return value ^ (value >>> 16);
}

function equal(a: usize, b: usize, length: u32): bool {
  const end = a + length;
  for (; a + 8 <= end; a += 8, b += 8) if (load<u64>(a) !== load<u64>(b)) return false;
  for (; a < end; a++, b++) if (load<u8>(a) !== load<u8>(b)) return false;
  return true;
}
