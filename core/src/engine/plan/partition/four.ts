import { type Intervals, intervalsOf, lastStartFour } from '../../../address/index.js';
import { Kernel } from '../../../kernel/index.js';

/**
 * The IPv4 space, cut into intervals that leave nothing out, with the class of each. Many intervals are kept by the
 * upper and the lower half of their starts, in 4 bytes each: a search over them is mostly a wait for memory.
 */
export type FourSpace = FewIntervals | ManyIntervals;

interface FewIntervals {
  readonly intervals: Intervals;
  readonly classes: Int32Array;
}

interface ManyIntervals {
  /** For each upper half of an address the first interval that starts in it or behind it; one more at the end. */
  readonly first: Uint32Array;
  /** The lower half of each start. */
  readonly low: Uint16Array;
  readonly classes: Uint16Array | Int32Array;
}

const FEW = 4096;
const HALVES = 65_536;

/** The space of intervals by their starts, which must be in order and begin with 0, and their classes. */
export function fourSpace(starts: Uint32Array, classes: Int32Array, classCount: number): FourSpace {
  if (starts.length <= FEW) return { intervals: intervalsOf(4, starts, endsOf(starts)), classes };
  const first = new Uint32Array(HALVES + 1);
  const low = new Uint16Array(starts.length);
  for (let at = 0; at < starts.length; at++) {
    const start = starts[at] as number;
    first[(start >>> 16) + 1] = at + 1;
    low[at] = start & 0xffff;
  }
  for (let half = 1; half <= HALVES; half++) if (first[half] === 0) first[half] = first[half - 1] as number;
  return { first, low, classes: classCount <= HALVES ? Uint16Array.from(classes) : classes };
}

/** The class of an address by its value. */
export function classOfFour(space: FourSpace, value: number): number {
  if ('intervals' in space) return space.classes[lastStartFour(space.intervals, value)] as number;
  const { first, low, classes } = space;
  const half = value >>> 16;
  return classes[lastIn(low, first[half] as number, first[half + 1] as number, value & 0xffff)] as number;
}

/** The classes of addresses, in `into` from `from` on; fastest where they are in order. */
export function classesOfFour(space: FourSpace, values: Uint32Array, into: Int32Array, from: number): void {
  if ('intervals' in space) {
    if (isInOrder(values)) fillRuns(space, values, into, from);
    else for (let at = 0; at < values.length; at++) into[from + at] = classOfFour(space, values[at] as number);
    return;
  }
  const search = searches.get(space) ?? new Search(space);
  searches.set(space, search);
  search.classes(values, into, from);
}

/** Of addresses in order those in one interval are a run, of which only the end is searched for. */
function fillRuns({ intervals, classes }: FewIntervals, values: Uint32Array, into: Int32Array, from: number): void {
  let begin = 0;
  for (let interval = 0; interval < intervals.count && begin < values.length; interval++) {
    const last = intervals.ends[interval] as number;
    if ((values[begin] as number) > last) continue;
    let [low, high] = [begin, values.length];
    while (low < high) {
      const middle = (low + high) >>> 1;
      if ((values[middle] as number) <= last) low = middle + 1;
      else high = middle;
    }
    into.fill(classes[interval] as number, from + begin, from + low);
    begin = low;
  }
}

function isInOrder(values: Uint32Array): boolean {
  for (let at = 1; at < values.length; at++) if ((values[at] as number) < (values[at - 1] as number)) return false;
  return true;
}

/** Searches of spaces that were searched for many addresses at once. */
const searches = new WeakMap<ManyIntervals, Search>();

/** Searches one space, which the kernel has a copy of. */
class Search {
  readonly #kernel = new Kernel();
  readonly #first: number;
  readonly #low: number;
  readonly #classes: number;
  readonly #isWide: boolean;

  constructor({ first, low, classes }: ManyIntervals) {
    this.#first = this.#kernel.keep(first);
    this.#low = this.#kernel.keep(low);
    this.#classes = this.#kernel.keep(classes);
    this.#isWide = classes instanceof Int32Array;
  }

  classes(values: Uint32Array, into: Int32Array, from: number): void {
    const kernel = this.#kernel;
    kernel.reset();
    const [at, found] = [kernel.put(values), kernel.take(values.byteLength)];
    kernel.calls.classesOfFour(this.#first, this.#low, this.#classes, this.#isWide, at, values.length, found);
    into.set(kernel.ints(found, values.length), from);
  }
}

/** The last interval before `to` that starts at or before the value; the one before `from` where none from there on does. */
function lastIn(low: Uint16Array, from: number, to: number, value: number): number {
  let begin = from - 1;
  let end = to;
  while (end - begin > 1) {
    const middle = (begin + end) >>> 1;
    if ((low[middle] as number) <= value) begin = middle;
    else end = middle;
  }
  return begin;
}

/** The intervals leave nothing out, so that each ends before the next one starts. */
const endsOf = (starts: Uint32Array): Uint32Array =>
  starts.map((_, at) => (at + 1 < starts.length ? (starts[at + 1] as number) - 1 : 0xffffffff));
