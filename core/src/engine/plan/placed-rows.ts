import type { Kernel } from '../../kernel/index.js';
import type { ClassColumn } from './class-column.js';

/** The classes of rows in the kernel. */
export interface PlacedColumn {
  /** The place of each row's class, or of its code where `classes` is the place of the classes of codes. */
  readonly codes: number;
  readonly classes: number;
  /** How many codes there are; 0 where the codes are the classes. */
  readonly count: number;
}

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

  /** The place of a column; columns that share codes share the place of these. */
  column({ codes, classes }: ClassColumn): PlacedColumn {
    return {
      codes: this.#placeOf(codes, codes.length > this.count ? codes.subarray(0, this.count) : codes),
      classes: classes === undefined ? 0 : this.#placeOf(classes, classes),
      count: classes === undefined ? 0 : classes.length,
    };
  }

  /** The same column, its classes mapped to those that `numbers` has for them. */
  mapped({ codes, classes, count }: PlacedColumn, numbers: Int32Array): PlacedColumn {
    const map = this.#placeOf(numbers, numbers);
    if (classes === 0) return { codes, classes: map, count: numbers.length };
    const into = this.kernel.take(count * 4);
    this.kernel.calls.mapClasses(classes, count, map, into);
    return { codes, classes: into, count };
  }

  /** The class of each row at a place. */
  classes({ codes, classes }: PlacedColumn): number {
    if (classes === 0) return codes;
    const into = this.take();
    this.kernel.calls.gather(classes, codes, this.count, into);
    return into;
  }

  /** A new place for a number for each row. */
  take(): number {
    return this.kernel.take(this.count * 4);
  }

  /** The numbers of the rows at a place. A copy. */
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
