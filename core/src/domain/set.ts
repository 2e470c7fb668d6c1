import type { DomainPattern } from './pattern.js';

/**
 * An immutable set of domain patterns. Names lie one behind the other as bytes, found by their hash; a search hashes
 * the host once from its end, and looks up each of its suffixes on the way. Exact: what is found is compared in full.
 */
export interface DomainSet {
  /** How many names there are. */
  readonly size: number;
  readonly bytes: Uint8Array;
  /** Where each name ends in `bytes`; it starts where the one before it ends. */
  readonly ends: Uint32Array;
  /** For each name, whether it matches itself (1), and whether all names below it match (2). */
  readonly reach: Uint8Array;
  /** By hash: the number of a name from 1 in the lower bits, some of its hash in the upper ones; 0 is empty. */
  readonly slots: Uint32Array;
  readonly numberBits: number;
  /** Names of which the set holds something else than its table says, where it was made from another set. */
  readonly changed?: DomainSet;
}

const EXACT = 1;
const UNDER = 2;
const DOT = 46;

/** Compiles patterns into a set. Their names must be in the normal form of `tryHost`. */
export function domainSet(patterns: Iterable<DomainPattern>): DomainSet {
  return tableOf(Array.isArray(patterns) ? (patterns as readonly DomainPattern[]) : [...patterns]);
}

/** What else a set is to hold than the one that it is made from. */
export interface DomainChanges {
  readonly added: readonly DomainPattern[];
  /** Names from which patterns were taken, each with those that are left of it. */
  readonly left: ReadonlyMap<string, readonly DomainPattern[]>;
}

/** The set with some patterns more and some less, in time and memory of the changes alone. The table is shared. */
export function changedDomainSet(set: DomainSet, { added, left }: DomainChanges): DomainSet {
  const { changed: _, ...table } = set;
  if (set.changed) throw new Error('a set that was changed is not changed again');
  const named = [...left].flatMap(([name, patterns]) => [{ reach: undefined, name }, ...patterns]);
  const kept = added
    .filter(({ name }) => !left.has(name))
    .flatMap(({ name }): readonly DomainPattern[] => patternsOf(table, name));
  const changed = tableOf([...named, ...kept, ...added]);
  let size = table.size;
  for (let number = 0; number < changed.size; number++) {
    const had = patternsOf(table, nameOf(changed, number)).length > 0;
    size += Number(changed.reach[number] !== 0) - Number(had);
  }
  return { ...table, size, changed };
}

/** The patterns of a name that the table of a set holds. */
const patternsOf = (table: DomainSet, name: string): DomainPattern[] =>
  patternsFor(reachAt(table, name, 0, hashOf(name)) ?? 0, name);

function patternsFor(bits: number, name: string): DomainPattern[] {
  if (bits === 0) return [];
  return [{ reach: bits === EXACT ? 'exact' : bits === UNDER ? 'only-under' : 'under', name }];
}

/** All patterns of the set, in no order. */
export function domainPatterns({ changed, ...table }: DomainSet): DomainPattern[] {
  const found = [...table.ends].flatMap((_, number) => {
    const name = nameOf(table, number);
    const isAnother = changed !== undefined && reachAt(changed, name, 0, hashOf(name)) !== undefined;
    return isAnother ? [] : patternsFor(table.reach[number] as number, name);
  });
  return changed ? [...found, ...domainPatterns(changed)] : found;
}

function nameOf({ bytes, ends }: DomainSet, number: number): string {
  return String.fromCharCode(...bytes.subarray(number === 0 ? 0 : ends[number - 1], ends[number]));
}

/** An edited set keeps a removed name, with no reach. */
type Named = DomainPattern | { readonly reach: undefined; readonly name: string };

function tableOf(all: readonly Named[]): DomainSet {
  const numberBits = Math.max(1, Math.ceil(Math.log2(all.length + 1)));
  const made = {
    bytes: new Uint8Array(all.reduce((sum, { name }) => sum + name.length, 0)),
    ends: new Uint32Array(all.length),
    reach: new Uint8Array(all.length),
    slots: new Uint32Array(2 ** (numberBits + 1)),
    numberBits,
    size: 0,
  };
  let size = 0;
  let end = 0;
  for (const { reach, name } of all) {
    const hash = hashOf(name);
    const slot = slotOf(made, name, 0, hash);
    let number = (made.slots[slot] as number) & (2 ** numberBits - 1);
    if (number === 0) {
      for (let at = 0; at < name.length; at++) made.bytes[end++] = name.charCodeAt(at);
      made.ends[size] = end;
      number = ++size;
      made.slots[slot] = entryOf(hash, number, numberBits);
    }
    if (reach === undefined) continue;
    made.reach[number - 1] =
      (made.reach[number - 1] as number) | (reach === 'only-under' ? 0 : EXACT) | (reach === 'exact' ? 0 : UNDER);
  }
  // Gives back the room of repeated names.
  return size === all.length ? { ...made, size } : trimmed({ ...made, size }, end);
}

function trimmed(set: DomainSet, end: number): DomainSet {
  const { size } = set;
  return { ...set, bytes: set.bytes.slice(0, end), ends: set.ends.slice(0, size), reach: set.reach.slice(0, size) };
}

/** Whether any pattern of the set means the host, which must be in normal form. */
export function domainSetContains(set: DomainSet, host: string): boolean {
  let hash = 0;
  for (let at = host.length - 1; at >= 0; at--) {
    const unit = host.charCodeAt(at);
    if (unit === DOT && isIn(set, host, at + 1, hash, UNDER)) return true;
    hash = Math.imul(hash ^ unit, 0x01000193);
  }
  return isIn(set, host, 0, hash, EXACT);
}

function isIn(set: DomainSet, host: string, start: number, hash: number, reach: number): boolean {
  const changed = set.changed && reachAt(set.changed, host, start, hash);
  return ((changed ?? reachAt(set, host, start, hash) ?? 0) & reach) !== 0;
}

/** What the table says of the name, the text from `start` on; undefined where it does not have it. */
function reachAt(table: DomainSet, text: string, start: number, hash: number): number | undefined {
  const number = (table.slots[slotOf(table, text, start, hash)] as number) & (2 ** table.numberBits - 1);
  return number === 0 ? undefined : table.reach[number - 1];
}

/** FNV-1a over the characters, the last first, so that a suffix's hash is met on the way to the whole. */
function hashOf(name: string): number {
  let hash = 0;
  for (let at = name.length - 1; at >= 0; at--) hash = Math.imul(hash ^ name.charCodeAt(at), 0x01000193);
  return hash;
}

/** Mixes the hash, whose lower bits depend on few characters. */
function spread(hash: number): number {
  const mixed = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b);
  return (mixed ^ (mixed >>> 13)) >>> 0;
}

const entryOf = (hash: number, number: number, numberBits: number): number =>
  (((Math.imul(hash, 0x9e3779b1) >>> numberBits) << numberBits) | number) >>> 0;

/** The slot of the name, the text from `start` on, or the empty slot where it belongs. */
function slotOf(set: DomainSet, text: string, start: number, hash: number): number {
  const { slots, numberBits } = set;
  const mask = slots.length - 1;
  const lower = 2 ** numberBits - 1;
  const upper = (entryOf(hash, 0, numberBits) & ~lower) >>> 0;
  let slot = spread(hash) & mask;
  for (let entry = slots[slot] as number; entry !== 0; entry = slots[slot] as number) {
    if ((entry & ~lower) >>> 0 === upper && equals(set, (entry & lower) - 1, text, start)) return slot;
    slot = (slot + 1) & mask;
  }
  return slot;
}

function equals({ bytes, ends }: DomainSet, number: number, text: string, start: number): boolean {
  const from = number === 0 ? 0 : (ends[number - 1] as number);
  const length = (ends[number] as number) - from;
  if (length !== text.length - start) return false;
  for (let at = 0; at < length; at++) if (bytes[from + at] !== text.charCodeAt(start + at)) return false;
  return true;
}
