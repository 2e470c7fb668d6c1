import type { Kernel } from '../../kernel/index.js';
import { type ClassColumn, classesOfRows } from './class-column.js';
import type { ClassSpace } from './class-space.js';
import { CrossProduct, type PlacedColumn } from './cross-product.js';
import type { Group } from './group.js';
import { GroupProjection } from './group-projection.js';
import type { PlacedRows } from './placed-rows.js';

/** Numbers rows by their classes in the sources of one group: one cross-product table after another. */
export class GroupProduct {
  readonly #group: Group;
  /** Undefined where the group has all clauses, so that its sources need no projection. */
  readonly #projections: readonly GroupProjection[] | undefined;
  readonly #products: readonly CrossProduct[];
  /** The classes that are its own, which it can forget. */
  readonly #spaces: readonly ClassSpace[];
  /** The classes of the group. */
  readonly #last: ClassSpace;
  /** `spaces` are the classes of all sources; `whole` says that there is no other group. */
  constructor(group: Group, spaces: readonly ClassSpace[], whole: boolean) {
    const own = group.sources.map((source) => spaces[source] as ClassSpace);
    this.#group = group;
    this.#projections = whole ? undefined : own.map((space) => new GroupProjection(space, group.clauses));
    const words = this.#projections?.[0]?.words ?? group.clauses.length;
    const from: readonly ClassSpace[] = this.#projections ?? own;
    const products: CrossProduct[] = [];
    from.slice(1).forEach((space, at) => {
      products.push(new CrossProduct(products[at - 1] ?? (from[0] as ClassSpace), space, words));
    });
    this.#products = products;
    this.#spaces = [...(this.#projections ?? []), ...products];
    this.#last = products.at(-1) ?? (from[0] as ClassSpace);
  }

  get count(): number {
    return this.#last.count;
  }

  /** How many words of memory its classes take. */
  get size(): number {
    return this.#spaces.reduce((sum, { combined }) => sum + combined.length, 0);
  }

  /** From the classes of each source those of the group, row by row. */
  rows(columns: readonly ClassColumn[], placed: PlacedRows): Uint32Array {
    let crossed = this.#column(0, columns);
    let place: number | undefined;
    for (const [at, product] of this.#products.entries()) {
      const column = this.#column(at + 1, columns);
      if (place === undefined && crossed.codes === column.codes && crossed.classes && column.classes) {
        // Both sides share codes, so the product is computed once a code; no row is touched.
        crossed = { codes: crossed.codes, classes: product.codes(crossed.classes, column.classes, placed.kernel) };
        continue;
      }
      const left = place === undefined ? placedColumn(placed, crossed) : { codes: place, classes: 0 };
      place = product.rows(left, placedColumn(placed, column), placed);
    }
    return place === undefined ? classesOfRows(crossed, placed.count) : placed.numbers(place);
  }

  /** Gives the memory of its tables back. */
  release(kernel: Kernel | undefined): void {
    if (kernel) for (const product of this.#products) product.release(kernel);
  }

  /** The classes of one source, as far as the group goes. */
  #column(at: number, columns: readonly ClassColumn[]): ClassColumn {
    const column = columns[this.#group.sources[at] as number] as ClassColumn;
    const numbers = this.#projections?.[at]?.numbers();
    if (numbers === undefined) return column;
    const { codes, classes } = column;
    return { codes, classes: classes ? through(classes, numbers) : numbers };
  }
}

const placedColumn = (placed: PlacedRows, { codes, classes }: ClassColumn): PlacedColumn => ({
  codes: placed.codes(codes),
  classes: placed.classes(classes),
});

function through(classes: Int32Array, numbers: Int32Array): Int32Array {
  const found = new Int32Array(classes.length);
  for (let at = 0; at < found.length; at++) found[at] = numbers[classes[at] as number] as number;
  return found;
}
