import { type ClassColumn, classesOfRows } from './class-column.js';
import type { ClassSpace } from './class-space.js';
import { CrossProduct } from './cross-product.js';
import type { Group } from './group.js';
import { GroupProjection } from './group-projection.js';

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
  /** The classes of the rows. */
  #own = new Uint32Array(0);

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

  /** From the classes of each source those of the group, good until the next call. */
  rows(columns: readonly ClassColumn[], count: number): Uint32Array {
    if (this.#own.length < count) this.#own = new Uint32Array(count);
    const own = this.#own;
    let crossed = this.#column(0, columns);
    for (const [at, product] of this.#products.entries()) {
      const column = this.#column(at + 1, columns);
      if (crossed.codes === column.codes && crossed.classes && column.classes) {
        // Both sides share codes, so the product is computed once a code; no row is touched.
        crossed = { codes: crossed.codes, classes: product.codes(crossed.classes, column.classes) };
        continue;
      }
      product.rows(crossed, column, count, own);
      crossed = { codes: own };
    }
    return classesOfRows(crossed, count, own);
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

function through(classes: Int32Array, numbers: Int32Array): Int32Array {
  const found = new Int32Array(classes.length);
  for (let at = 0; at < found.length; at++) found[at] = numbers[classes[at] as number] as number;
  return found;
}
