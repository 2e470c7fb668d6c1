/*
 * Runs of bytes, numbered from 0 in the order in which they come. A look-up waits for memory twice: for its slot, and for
 * the text, which has its number in front.
 */

const SLOTS: usize = 0;
const SLOT_COUNT: usize = 4;
const TEXTS: usize = 8;
const ROOM: usize = 12;
const COUNT: usize = 16;
const LENGTH: usize = 20;
/** What was fetched ahead: kept, so that the compiler does not leave the fetching out. */
const TOUCHED: usize = 24;
const HEAD: usize = 28;

const AHEAD: usize = 12;

/** In the place of an id, where there is no run. */
const NO_RUN: i32 = -1;

const FIRST_SLOTS: u32 = 1024;
const FIRST_ROOM: u32 = 16384;
const MOST_ROOM: u32 = 1 << 30;
/** The hash of a text, and where it is among the texts, plus one; 0: the slot is free. */
const SLOT: usize = 8;
/** In front of a text: its number, and how long it is. */
const TITLE: u32 = 8;

export function newArena(): usize {
  const arena = heap.alloc(HEAD);
  store<usize>(arena + SLOTS, freeSlots(FIRST_SLOTS));
  store<u32>(arena + SLOT_COUNT, FIRST_SLOTS);
  store<usize>(arena + TEXTS, heap.alloc(FIRST_ROOM));
  store<u32>(arena + ROOM, FIRST_ROOM);
  store<u32>(arena + COUNT, 0);
  store<u32>(arena + LENGTH, 0);
  return arena;
}

export function releaseArena(arena: usize): void {
  heap.free(load<usize>(arena + SLOTS));
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
  // Hashes first, in the place of the ids: then it is known ahead which memory will be looked at.
  for (let at: usize = 0; at < <usize>count; at++) {
    const end = load<u32>(ends + (at << 2));
    store<i32>(ids + (at << 2), hashOf(texts + start, end - start, hashStart));
    start = end;
  }
  start = 0;
  let touched: u32 = 0;
  for (let at: usize = 0; at < <usize>count; at++) {
    if (at + AHEAD < <usize>count) touched ^= touch(arena, load<i32>(ids + ((at + AHEAD) << 2)), secret);
    const end = load<u32>(ends + (at << 2));
    const hash = load<i32>(ids + (at << 2));
    store<u32>(ids + (at << 2), numberOf(arena, texts + start, end - start, hash, secret) + 1);
    start = end;
  }
  store<u32>(arena + TOUCHED, touched);
}

export function internRows(
  arena: usize,
  columns: usize,
  width: u32,
  count: u32,
  ids: usize,
  row: usize,
  hashStart: i32,
  secret: i32,
): void {
  const length = width << 2;
  const end = (<usize>count) << 2;
  for (let at: usize = 0; at < end; at += 4) {
    for (let column: usize = 0; column < length; column += 4)
      store<u32>(row + column, load<u32>(load<u32>(columns + column) + at));
    store<u32>(ids + at, numberOf(arena, row, length, hashOf(row, length, hashStart), secret));
  }
}

export function internRuns(
  arena: usize,
  bytes: usize,
  seen: usize,
  field: u32,
  starts: usize,
  lengths: usize,
  count: u32,
  ids: usize,
  hashStart: i32,
  secret: i32,
): void {
  const bit: u32 = 1 << field;
  const end = (<usize>count) << 2;
  for (let at: usize = 0; at < end; at += 4)
    if ((load<u32>(seen + at) & bit) !== 0)
      store<i32>(ids + at, hashOf(bytes + load<u32>(starts + at), load<u32>(lengths + at), hashStart));
  let touched: u32 = 0;
  for (let at: usize = 0; at < end; at += 4) {
    const ahead = at + (AHEAD << 2);
    if (ahead < end) touched ^= touch(arena, load<i32>(ids + ahead), secret);
    if ((load<u32>(seen + at) & bit) === 0) {
      store<i32>(ids + at, NO_RUN);
      continue;
    }
    const text = bytes + load<u32>(starts + at);
    store<u32>(ids + at, numberOf(arena, text, load<u32>(lengths + at), load<i32>(ids + at), secret));
  }
  store<u32>(arena + TOUCHED, touched);
}

/** The number of a text. */
export function idOf(arena: usize, text: usize, length: u32, hashStart: i32, secret: i32): u32 {
  return numberOf(arena, text, length, hashOf(text, length, hashStart), secret);
}

/** Has the processor fetch what a text of this hash will be looked for in, while others are looked up. */
function touch(arena: usize, hash: i32, secret: i32): u32 {
  const slot = mixed(hash, secret) & (load<u32>(arena + SLOT_COUNT) - 1);
  const known = load<u32>(load<usize>(arena + SLOTS) + <usize>slot * SLOT + 4);
  return known === 0 ? 0 : load<u32>(load<usize>(arena + TEXTS) + known - 1);
}

export function slotOf(text: usize, length: u32, slots: u32, hashStart: i32, secret: i32): u32 {
  return mixed(hashOf(text, length, hashStart), secret) & (slots - 1);
}

function numberOf(arena: usize, text: usize, length: u32, hash: i32, secret: i32): u32 {
  const slots = load<usize>(arena + SLOTS);
  const texts = load<usize>(arena + TEXTS);
  const mask = load<u32>(arena + SLOT_COUNT) - 1;
  let slot = mixed(hash, secret) & mask;
  while (true) {
    const place = slots + <usize>slot * SLOT;
    const known = load<u32>(place + 4);
    if (known === 0) return add(arena, place, text, length, hash, secret);
    if (load<i32>(place) === hash) {
      const title = texts + known - 1;
      if (load<u32>(title + 4) === length && equal(title + TITLE, text, length)) return load<u32>(title);
    }
    slot = (slot + 1) & mask;
  }
}

function add(arena: usize, place: usize, text: usize, length: u32, hash: i32, secret: i32): u32 {
  const number = load<u32>(arena + COUNT);
  const start = load<u32>(arena + LENGTH);
  const end = start + TITLE + ((length + 7) & ~7);
  if (end > load<u32>(arena + ROOM)) makeRoom(arena, start, end);
  const title = load<usize>(arena + TEXTS) + start;
  store<u32>(title, number);
  store<u32>(title + 4, length);
  memory.copy(title + TITLE, text, length);
  store<i32>(place, hash);
  store<u32>(place + 4, start + 1);
  store<u32>(arena + COUNT, number + 1);
  store<u32>(arena + LENGTH, end);
  if ((number + 1) * 2 >= load<u32>(arena + SLOT_COUNT)) grow(arena, secret);
  return number;
}

function makeRoom(arena: usize, used: u32, least: u32): void {
  let room = load<u32>(arena + ROOM);
  while (room < least) {
    // Twice as much is more than there can be, and no number of 32 bits.
    if (room > MOST_ROOM) unreachable();
    room <<= 1;
  }
  const texts = heap.alloc(room);
  memory.copy(texts, load<usize>(arena + TEXTS), used);
  heap.free(load<usize>(arena + TEXTS));
  store<usize>(arena + TEXTS, texts);
  store<u32>(arena + ROOM, room);
}

/** Twice as many slots, of which half are taken at most. */
function grow(arena: usize, secret: i32): void {
  const before = load<u32>(arena + SLOT_COUNT);
  const old = load<usize>(arena + SLOTS);
  const size = before << 1;
  const slots = freeSlots(size);
  for (let at: u32 = 0; at < before; at++) {
    const taken = load<u64>(old + <usize>at * SLOT);
    if (taken >>> 32 === 0) continue;
    let slot = mixed(<i32>taken, secret) & (size - 1);
    while (load<u32>(slots + <usize>slot * SLOT + 4) !== 0) slot = (slot + 1) & (size - 1);
    store<u64>(slots + <usize>slot * SLOT, taken);
  }
  heap.free(old);
  store<usize>(arena + SLOTS, slots);
  store<u32>(arena + SLOT_COUNT, size);
}

function freeSlots(count: u32): usize {
  const slots = heap.alloc(<usize>count * SLOT);
  memory.fill(slots, 0, <usize>count * SLOT);
  return slots;
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

/** The last bytes are compared with some of those before them, so that none is looked at alone. */
export function equal(a: usize, b: usize, length: u32): bool {
  if (length >= 8) {
    const last = <usize>length - 8;
    for (let at: usize = 0; at < last; at += 8) if (load<u64>(a + at) !== load<u64>(b + at)) return false;
    return load<u64>(a + last) === load<u64>(b + last);
  }
  for (let at: usize = 0; at < <usize>length; at++) if (load<u8>(a + at) !== load<u8>(b + at)) return false;
  return true;
}
