import type { Kernel } from '../../kernel/index.js';
import type { ClassColumn } from './class-column.js';

/** The classes of rows in the kernel. */
export interface KernelColumn {
  /** A pointer to each row's class, or to its code where `classes` is not 0. */
  readonly codes: number;
  /** A pointer to the class of each code; 0 where the codes are the classes. */
  readonly classes: number;
  /** How many codes there are; 0 where the codes are the classes. */
  readonly count: number;
}

/** The columns of a block's rows in the kernel. Each is copied there once, whatever number of tables reads it. */
export class KernelRows {
  readonly kernel: Kernel;
  readonly count: number;
  readonly #pointers = new Map<Uint32Array | Int32Array, number>();

  /** Gives back what the kernel had as scratch. */
  constructor(kernel: Kernel, count: number) {
    kernel.reset();
    this.kernel = kernel;
    this.count = count;
  }

  /** A column in the kernel. Columns that share codes share the copy of these. */
  column({ codes, classes }: ClassColumn): KernelColumn {
    return {
      codes: this.#pointerTo(codes, codes.length > this.count ? codes.subarray(0, this.count) : codes),
      classes: classes === undefined ? 0 : this.#pointerTo(classes, classes),
      count: classes === undefined ? 0 : classes.length,
    };
  }

  /** The same column, its classes mapped to those that `numbers` has for them. */
  mapped({ codes, classes, count }: KernelColumn, numbers: Int32Array): KernelColumn {
    const map = this.#pointerTo(numbers, numbers);
    if (classes === 0) return { codes, classes: map, count: numbers.length };
    const into = this.kernel.take(count * 4);
    this.kernel.calls.mapClasses(classes, count, map, into);
    return { codes, classes: into, count };
  }

  /** A pointer to the class of each row. */
  classes({ codes, classes }: KernelColumn): number {
    if (classes === 0) return codes;
    const into = this.take();
    this.kernel.calls.gather(classes, codes, this.count, into);
    return into;
  }

  /** A pointer to room for a number for each row. */
  take(): number {
    return this.kernel.take(this.count * 4);
  }

  /** The numbers of the rows at a pointer. A copy. */
  numbers(pointer: number): Uint32Array {
    return this.kernel.words(pointer, this.count).slice();
  }

  #pointerTo(key: Uint32Array | Int32Array, values: Uint32Array | Int32Array): number {
    let pointer = this.#pointers.get(key);
    if (pointer === undefined) {
      pointer = this.kernel.put(values);
      this.#pointers.set(key, pointer);
    }
    return pointer;
  }
}
