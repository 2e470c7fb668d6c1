import type { Kernel } from '../../kernel/index.js';
import type { ClassSpace } from './class-space.js';
import { CrossProduct } from './cross-product.js';
import type { Group } from './group.js';
import { GroupProjection } from './group-projection.js';
import type { KernelColumn, KernelRows } from './kernel-rows.js';

/** Numbers rows by their classes in the sources of one group: one cross-product table after another. */
export class GroupProduct {
  readonly #group: Group;
  /** Undefined where the group has all clauses, so that its sources need no projection. */
  readonly #projections: readonly GroupProjection[] | undefined;
  readonly #products: readonly CrossProduct[];
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
    this.#last = products.at(-1) ?? (from[0] as ClassSpace);
  }

  get count(): number {
    return this.#last.count;
  }

  /** How many 32-bit words of memory its own classes take, which it can forget. */
  get size(): number {
    const projected = this.#projections?.reduce((sum, { combined }) => sum + combined.length, 0) ?? 0;
    return this.#products.reduce((sum, { size }) => sum + size, projected);
  }

  /** From the classes of each source those of the group. */
  rows(columns: readonly KernelColumn[], kernelRows: KernelRows): KernelColumn {
    let crossed = this.#column(0, columns, kernelRows);
    for (const [at, product] of this.#products.entries())
      crossed = product.cross(crossed, this.#column(at + 1, columns, kernelRows), kernelRows);
    return crossed;
  }

  /** Gives the memory of its tables back. */
  release(kernel: Kernel): void {
    for (const product of this.#products) product.release(kernel);
  }

  /** The classes of one source, as far as the group goes. */
  #column(at: number, columns: readonly KernelColumn[], kernelRows: KernelRows): KernelColumn {
    const column = columns[this.#group.sources[at] as number] as KernelColumn;
    const projection = this.#projections?.[at];
    return projection === undefined ? column : kernelRows.mapped(column, projection.numbers());
  }
}
