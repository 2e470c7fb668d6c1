import {
  type Address,
  type AddressRange,
  addressSet,
  compareAddresses,
  formatRange,
  rangeContains,
  rangeSize,
  setRanges,
} from '../address/index.js';
import { type DomainPattern, formatDomainPattern } from '../domain/index.js';
import type { Entry, List } from './list.js';

/** This many entries are listed; all are counted. */
const MOST_NAMED = 20;

/** How many there are, and some of them, each with the entry that it meets. */
export interface Met {
  readonly count: number;
  readonly some: readonly { readonly entry: string; readonly by: string }[];
}

/** Entries of a list that are repeated, or are in another list as well. */
export interface Overlap {
  /** Entries that the list has more than once, however they are written. */
  readonly duplicates: Met;
  /** Entries that another, wider one of the same list covers already. */
  readonly covered: Met;
  /** Entries of this list that the other list holds, the same or covered. Null without another list. */
  readonly common: Met | null;
}

/** How many single addresses a list of them covers, each counted once; undefined for other lists. */
export function addressesCovered(list: List): bigint | undefined {
  if (list.of !== 'addresses') return undefined;
  const ranges = setRanges(addressSet(list.entries.map(({ value }) => value)));
  return ranges.reduce((sum, range) => sum + rangeSize(range), 0n);
}

/** Compares the entries of a list with each other, and with another of the same sort. Includes are not followed. */
export function overlapOf(list: List, other: List | undefined): Overlap {
  const [own, others] = [holdingOf(list), other && holdingOf(other)];
  const seen = new Map<string, string>();
  const duplicates = new Meeting();
  const covered = new Meeting();
  const common = new Meeting();
  list.entries.forEach((entry, place) => {
    const normal = normalOf(list, entry);
    const first = seen.get(normal);
    if (first === undefined) seen.set(normal, entry.text);
    else duplicates.add(entry.text, first);
    const wider = own.wider(place);
    if (wider !== undefined) covered.add(entry.text, wider);
    const there = others?.holding(entry.value);
    if (there !== undefined) common.add(entry.text, there);
  });
  return { duplicates: duplicates.met, covered: covered.met, common: other ? common.met : null };
}

class Meeting {
  #count = 0;
  readonly #some: { entry: string; by: string }[] = [];

  add(entry: string, by: string): void {
    this.#count++;
    if (this.#some.length < MOST_NAMED) this.#some.push({ entry, by });
  }

  get met(): Met {
    return { count: this.#count, some: this.#some };
  }
}

interface Holding {
  /** The wider entry of the same list that covers the one at the place; undefined for none. */
  readonly wider: (place: number) => string | undefined;
  /** The entry that is or covers a value of the same sort; undefined for none. */
  readonly holding: (value: unknown) => string | undefined;
}

function holdingOf(list: List): Holding {
  switch (list.of) {
    case 'addresses':
      return addressesHolding(list.entries);
    case 'domains':
      return domainsHolding(list.entries);
    default: {
      const known = new Map(list.entries.map((entry) => [normalOf(list, entry), entry.text]));
      return { wider: () => undefined, holding: (value) => known.get(JSON.stringify(value)) };
    }
  }
}

function normalOf(list: List, { value }: Entry<unknown>): string {
  if (list.of === 'addresses') return formatRange(value as AddressRange);
  return list.of === 'domains' ? formatDomainPattern(value as DomainPattern) : JSON.stringify(value);
}

/** Ranges in the order of their starts, the widest first: what covers one is the last open one that reaches so far. */
function addressesHolding(entries: readonly Entry<AddressRange>[]): Holding {
  const order = [...entries.keys()].sort((a, b) => byStart(rangeAt(entries, a), rangeAt(entries, b)));
  const wider = new Map<number, string>();
  let open: number | undefined;
  for (const place of order) {
    const range = rangeAt(entries, place);
    const outer = open === undefined ? undefined : rangeAt(entries, open);
    const inside = outer && rangeContains(outer, range.first) && rangeContains(outer, range.last);
    if (inside && open !== undefined) {
      if (formatRange(outer) !== formatRange(range)) wider.set(place, entries[open]?.text ?? '');
    } else open = place;
  }
  const starts = order.map((place) => rangeAt(entries, place).first);
  // The widest that begins at or before each place of the order and reaches furthest.
  const furthest: number[] = [];
  order.forEach((place, at) => {
    const before = furthest[at - 1];
    const reaches =
      before !== undefined && compareAddresses(rangeAt(entries, before).last, rangeAt(entries, place).last) >= 0;
    const sameFamily =
      before !== undefined && rangeAt(entries, before).first.family === rangeAt(entries, place).first.family;
    furthest.push(reaches && sameFamily ? before : place);
  });
  const holding = (value: unknown): string | undefined => {
    const { first, last } = value as AddressRange;
    const at = lastAtOrBefore(starts, first);
    const place = furthest[at];
    if (place === undefined) return undefined;
    const range = rangeAt(entries, place);
    return rangeContains(range, first) && rangeContains(range, last) ? entries[place]?.text : undefined;
  };
  return { wider: (place) => wider.get(place), holding };
}

const rangeAt = (entries: readonly Entry<AddressRange>[], place: number): AddressRange =>
  (entries[place] as Entry<AddressRange>).value;

const byStart = (a: AddressRange, b: AddressRange): number =>
  compareAddresses(a.first, b.first) || compareAddresses(b.last, a.last);

function lastAtOrBefore(starts: readonly Address[], address: Address): number {
  let [low, high] = [0, starts.length];
  while (low < high) {
    const middle = (low + high) >>> 1;
    if (compareAddresses(starts[middle] as Address, address) <= 0) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}

/** By name: an entry is covered by one of a name above it that means what is under it. */
function domainsHolding(entries: readonly Entry<DomainPattern>[]): Holding {
  const under = new Map<string, Entry<DomainPattern>>();
  const known = new Map<string, string>();
  for (const entry of entries) {
    const { reach, name } = entry.value;
    if (reach !== 'exact' && under.get(name)?.value.reach !== 'under') under.set(name, entry);
    const normal = formatDomainPattern(entry.value);
    if (!known.has(normal)) known.set(normal, entry.text);
  }
  const coverOf = ({ reach, name }: DomainPattern): Entry<DomainPattern> | undefined => {
    const own = under.get(name);
    if (own?.value.reach === 'under' && reach !== 'under') return own;
    for (let dot = name.indexOf('.'); dot >= 0; dot = name.indexOf('.', dot + 1)) {
      const above = under.get(name.slice(dot + 1));
      if (above) return above;
    }
    return undefined;
  };
  return {
    wider: (place) => coverOf((entries[place] as Entry<DomainPattern>).value)?.text,
    holding: (value) => known.get(formatDomainPattern(value as DomainPattern)) ?? coverOf(value as DomainPattern)?.text,
  };
}
