import { hashByte, hashSecrets, slotBy } from '../column/index.js';
import type { DomainPattern } from './pattern.js';

/**
 * An immutable set of domain patterns: a hash table of names. A search hashes the host once from its end, and looks up
 * each of its suffixes on the way; a hit is compared in full. A name lies in one piece, so that a hit in a large set
 * costs two cache misses: its slot and its record.
 */
export interface DomainSet {
  /** How many names there are. */
  readonly size: number;
  /** A record for each name: its reach, its length, and its characters. Names are ASCII, at most 253 bytes long. */
  readonly records: Uint8Array;
  /** By hash: the offset of a record plus 1 in the lower bits, bits of the hash in the upper ones; 0 is empty. */
  readonly slots: Uint32Array;
  readonly offsetBits: number;
  /**
   * Where its hashes begin and end: the secrets of the thread that made it, since whoever publishes a list must not be
   * able to choose names that fall into one slot. The set keeps them wherever it is copied to.
   */
  readonly secrets: { readonly start: number; readonly spread: number };
  /** Names of which the set holds something else than its table says, where it was made from another set. */
  readonly changed?: DomainSet;
}

/** Bits of a reach: the name itself matches, and all names below it match. */
const EXACT = 1;
const UNDER = 2;
/** Bytes of a record in front of the characters. */
const HEADER = 2;
const DOT = 46;

/** Compiles patterns into a set. Their names must be in the normal form of `tryHost`. */
export function domainSet(patterns: Iterable<DomainPattern>): DomainSet {
  return tableOf(Array.isArray(patterns) ? (patterns as readonly DomainPattern[]) : [...patterns]);
}

/** The changes from the set that it is made from. */
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
  // A search hashes a host once for both tables.
  const changed = tableOf([...named, ...kept, ...added], table.secrets);
  let size = table.size;
  for (const offset of offsetsOf(changed)) {
    const had = patternsOf(table, nameAt(changed, offset)).length > 0;
    size += Number(changed.records[offset] !== 0) - Number(had);
  }
  return { ...table, size, changed };
}

/** The patterns of a name that the table of a set holds. */
const patternsOf = (table: DomainSet, name: string): DomainPattern[] =>
  patternsFor(reachOf(table, name, 0, hashOf(table, name)) ?? 0, name);

function patternsFor(bits: number, name: string): DomainPattern[] {
  if (bits === 0) return [];
  return [{ reach: bits === EXACT ? 'exact' : bits === UNDER ? 'only-under' : 'under', name }];
}

/** All patterns of the set, in no order. */
export function domainPatterns({ changed, ...table }: DomainSet): DomainPattern[] {
  const found = [...offsetsOf(table)].flatMap((offset) => {
    const name = nameAt(table, offset);
    const isAnother = changed !== undefined && reachOf(changed, name, 0, hashOf(changed, name)) !== undefined;
    return isAnother ? [] : patternsFor(table.records[offset] as number, name);
  });
  return changed ? [...found, ...domainPatterns(changed)] : found;
}

function* offsetsOf({ records }: DomainSet): Generator<number> {
  for (let offset = 0; offset < records.length; offset += HEADER + (records[offset + 1] as number)) yield offset;
}

const nameAt = ({ records }: DomainSet, offset: number): string =>
  String.fromCharCode(...records.subarray(offset + HEADER, offset + HEADER + (records[offset + 1] as number)));

/** An edited set keeps a removed name, with no reach. */
type Named = DomainPattern | { readonly reach: undefined; readonly name: string };

function tableOf(all: readonly Named[], secrets = hashSecrets()): DomainSet {
  const most = all.reduce((sum, { name }) => sum + HEADER + name.length, 0);
  const made = {
    size: 0,
    records: new Uint8Array(most),
    slots: new Uint32Array(2 ** (bitsFor(all.length) + 1)),
    offsetBits: bitsFor(most),
    secrets,
  };
  let [size, end] = [0, 0];
  for (const { reach, name } of all) {
    const hash = hashOf(made, name);
    const slot = slotOf(made, name, 0, hash);
    let offset = offsetIn(made, slot);
    if (offset < 0) {
      offset = end;
      made.records[offset + 1] = name.length;
      for (let at = 0; at < name.length; at++) made.records[offset + HEADER + at] = name.charCodeAt(at);
      made.slots[slot] = entryOf(hash, offset + 1, made.offsetBits);
      end += HEADER + name.length;
      size++;
    }
    if (reach === undefined) continue;
    made.records[offset] =
      (made.records[offset] as number) | (reach === 'only-under' ? 0 : EXACT) | (reach === 'exact' ? 0 : UNDER);
  }
  // Gives back the room of repeated names.
  return { ...made, size, ...(end < most && { records: made.records.slice(0, end) }) };
}

/** How many bits hold the numbers up to this one. */
const bitsFor = (number: number): number => Math.max(1, Math.ceil(Math.log2(number + 1)));

/** The offset of the record in the slot; −1 when the slot is empty. */
const offsetIn = ({ slots, offsetBits }: DomainSet, slot: number): number =>
  ((slots[slot] as number) & (2 ** offsetBits - 1)) - 1;

/** Whether any pattern of the set means the host, which must be in normal form. */
export function domainSetContains(set: DomainSet, host: string): boolean {
  let hash = set.secrets.start;
  for (let at = host.length - 1; at >= 0; at--) {
    const unit = host.charCodeAt(at);
    if (unit === DOT && isIn(set, host, at + 1, hash, UNDER)) return true;
    hash = hashByte(hash, unit);
  }
  return isIn(set, host, 0, hash, EXACT);
}

/**
 * The slot in which the set keeps the name itself, which must be in normal form; −1 where it has none. Slots are numbered
 * below `slots.length`, so that something can be kept beside each name. Do not ask it of a set that was changed.
 */
export function slotOfName(set: DomainSet, name: string): number {
  const slot = slotOf(set, name, 0, hashOf(set, name));
  return offsetIn(set, slot) < 0 ? -1 : slot;
}

function isIn(set: DomainSet, host: string, start: number, hash: number, reach: number): boolean {
  const changed = set.changed && reachOf(set.changed, host, start, hash);
  return ((changed ?? reachOf(set, host, start, hash) ?? 0) & reach) !== 0;
}

/** The reach of the name, the text from `start` on; undefined when the table does not have it. */
function reachOf(table: DomainSet, text: string, start: number, hash: number): number | undefined {
  const offset = offsetIn(table, slotOf(table, text, start, hash));
  return offset < 0 ? undefined : table.records[offset];
}

/** FNV-1a over the characters, the last first, so that a suffix's hash is met on the way to the whole. */
function hashOf({ secrets }: Pick<DomainSet, 'secrets'>, name: string): number {
  let hash = secrets.start;
  for (let at = name.length - 1; at >= 0; at--) hash = hashByte(hash, name.charCodeAt(at));
  return hash;
}

const entryOf = (hash: number, number: number, offsetBits: number): number =>
  offsetBits === 32 ? number : (((Math.imul(hash, 0x9e3779b1) >>> offsetBits) << offsetBits) | number) >>> 0;

/** The slot of the name, the text from `start` on, or the empty slot where it belongs. */
function slotOf({ slots, records, offsetBits, secrets }: DomainSet, text: string, start: number, hash: number): number {
  const mask = slots.length - 1;
  const lower = 2 ** offsetBits - 1;
  const upper = entryOf(hash, 0, offsetBits);
  let slot = slotBy(hash, secrets.spread, slots.length);
  for (let entry = slots[slot] as number; entry !== 0; entry = slots[slot] as number) {
    if ((entry & ~lower) >>> 0 === upper && isName(records, (entry & lower) - 1, text, start)) return slot;
    slot = (slot + 1) & mask;
  }
  return slot;
}

function isName(records: Uint8Array, offset: number, text: string, start: number): boolean {
  const length = text.length - start;
  if (records[offset + 1] !== length) return false;
  for (let at = 0; at < length; at++) if (records[offset + HEADER + at] !== text.charCodeAt(start + at)) return false;
  return true;
}
