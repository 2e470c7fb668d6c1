import { type Intervals, intervalsOf, lastStartSix } from '../../../address/index.js';
import { Kernel } from '../../../kernel/index.js';

/** The IPv6 space, cut into intervals that leave nothing out, with the class of each. */
export interface SixSpace {
  readonly intervals: Intervals;
  readonly classes: Int32Array;
}

/** So few are searched one by one. */
const FEW = 4096;

/** The space of intervals by their starts, four words each, which must be in order and begin with 0. */
export const sixSpace = (starts: Uint32Array, classes: Int32Array): SixSpace => ({
  intervals: intervalsOf(6, starts, endsOf(starts)),
  classes,
});

/** The class of an address, of which the words are given. */
export const classOfSix = ({ intervals, classes }: SixSpace, a: number, b: number, c: number, d: number): number =>
  classes[lastStartSix(intervals, a, b, c, d)] as number;

/** The classes of addresses, four words each, in `into` from `from` on; fastest where they are in order. */
export function classesOfSix(space: SixSpace, values: Uint32Array, into: Int32Array, from: number): void {
  if (space.intervals.count <= FEW || values.length === 0) {
    for (let at = 0, place = from; at < values.length; at += 4, place++) {
      const [a, b, c, d] = [values[at], values[at + 1], values[at + 2], values[at + 3]] as [
        number,
        number,
        number,
        number,
      ];
      into[place] = classOfSix(space, a, b, c, d);
    }
    return;
  }
  const search = searches.get(space) ?? new Search(space);
  searches.set(space, search);
  search.classes(values, into, from);
}

/** Searches of spaces that were searched for many addresses at once. */
const searches = new WeakMap<SixSpace, Search>();

/** Searches one space, which the kernel has a copy of. */
class Search {
  readonly #kernel = new Kernel();
  readonly #starts: number;
  readonly #classes: number;
  readonly #count: number;

  constructor({ intervals, classes }: SixSpace) {
    this.#starts = this.#kernel.keep(intervals.starts);
    this.#classes = this.#kernel.keep(classes);
    this.#count = intervals.count;
  }

  classes(values: Uint32Array, into: Int32Array, from: number): void {
    const kernel = this.#kernel;
    const count = values.length / 4;
    kernel.reset();
    const [at, found] = [kernel.put(values), kernel.take(count * 4)];
    kernel.calls.classesOfSix(this.#starts, this.#classes, this.#count, at, count, found);
    into.set(kernel.ints(found, count), from);
  }
}

/** Each interval ends before the next one starts. */
function endsOf(starts: Uint32Array): Uint32Array {
  const width = 4;
  const ends = new Uint32Array(starts.length).fill(0xffffffff);
  for (let at = width; at < starts.length; at += width)
    for (let word = width - 1, borrow = 1; word >= 0; word--) {
      const value = (starts[at + word] as number) - borrow;
      borrow = value < 0 ? 1 : 0;
      ends[at - width + word] = value;
    }
  return ends;
}
