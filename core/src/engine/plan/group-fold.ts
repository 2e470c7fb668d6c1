import type { ClassSpace } from './class-space.js';
import { Fold } from './fold.js';
import type { Group } from './group.js';
import { Narrowed } from './narrowed.js';

/** Takes the classes of the sources of one group together, source by source. */
export class GroupFold {
  readonly #group: Group;
  /** Undefined where the group has all clauses, so that nothing is to be narrowed. */
  readonly #narrowed: readonly Narrowed[] | undefined;
  readonly #folds: readonly Fold[];
  readonly #spaces: readonly ClassSpace[];
  /** The classes of the rows. */
  #own = new Int32Array(0);

  /** `spaces` are the classes of all sources; `whole` says that there is no other group. */
  constructor(group: Group, spaces: readonly ClassSpace[], whole: boolean) {
    const own = group.sources.map((source) => spaces[source] as ClassSpace);
    this.#group = group;
    this.#narrowed = whole ? undefined : own.map((space) => new Narrowed(space, group.clauses));
    const words = this.#narrowed?.[0]?.words ?? group.clauses.length;
    const from: readonly ClassSpace[] = this.#narrowed ?? own;
    const folds: Fold[] = [];
    from.slice(1).forEach((space, at) => {
      folds.push(new Fold(folds[at - 1] ?? (from[0] as ClassSpace), space, words));
    });
    this.#folds = folds;
    this.#spaces = [...(this.#narrowed ?? []), ...folds];
  }

  /** How many words of memory its classes take. */
  get size(): number {
    return this.#spaces.reduce((sum, { combined }) => sum + combined.length, 0);
  }

  /** From the classes of each source those of the group, good until the next call. `scratch` is written over. */
  rows(columns: readonly Int32Array[], count: number, scratch: Int32Array): Int32Array {
    if (this.#own.length < count) this.#own = new Int32Array(count);
    const own = this.#own;
    let folded = this.#column(0, columns, count, own);
    this.#folds.forEach((fold, at) => {
      fold.rows(folded, this.#column(at + 1, columns, count, scratch), count, own);
      folded = own;
    });
    return folded;
  }

  #column(at: number, columns: readonly Int32Array[], count: number, into: Int32Array): Int32Array {
    const classes = columns[this.#group.sources[at] as number] as Int32Array;
    if (this.#narrowed === undefined) return classes;
    (this.#narrowed[at] as Narrowed).rows(classes, count, into);
    return into;
  }
}
