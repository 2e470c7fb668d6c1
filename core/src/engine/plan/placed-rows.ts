import type { Kernel } from '../../kernel/index.js';

/** What the kernel has of the columns of a block's rows: each is copied there once, whatever number of tables reads it. */
export class PlacedRows {
  readonly kernel: Kernel;
  readonly count: number;
  readonly #places = new Map<Uint32Array | Int32Array, number>();

  /** Gives back what the kernel had as scratch. */
  constructor(kernel: Kernel, count: number) {
    kernel.reset();
    this.kernel = kernel;
    this.count = count;
  }

  /** The place of a code for each of the rows. */
  codes(codes: Uint32Array): number {
    return this.#placeOf(codes, codes.length > this.count ? codes.subarray(0, this.count) : codes);
  }

  /** The place of the classes of codes; 0 for none. */
  classes(classes: Int32Array | undefined): number {
    return classes === undefined ? 0 : this.#placeOf(classes, classes);
  }

  /** A new place for a number for each row. */
  take(): number {
    return this.kernel.take(this.count * 4);
  }

  /** The numbers at a place. A copy. */
  numbers(place: number): Uint32Array {
    return this.kernel.words(place, this.count).slice();
  }

  #placeOf(key: Uint32Array | Int32Array, values: Uint32Array | Int32Array): number {
    let place = this.#places.get(key);
    if (place === undefined) {
      place = this.kernel.put(values);
      this.#places.set(key, place);
    }
    return place;
  }
}
