import type { ClassSpace } from './class-space.js';
import { type Column, Fold } from './fold.js';
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

  /** Whether its classes are numbered from 0 in the order in which rows show them. */
  get inOrder(): boolean {
    return this.#folds.length > 0;
  }

  get count(): number {
    return (this.#spaces.at(-1) as ClassSpace).count;
  }

  /** How many words of memory its classes take. */
  get size(): number {
    return this.#spaces.reduce((sum, { combined }) => sum + combined.length, 0);
  }

  /** From the classes of each source those of the group, good until the next call. */
  rows(columns: readonly Int32Array[], count: number): Int32Array {
    if (this.#own.length < count) this.#own = new Int32Array(count);
    const own = this.#own;
    const [first, ...others] = this.#group.sources.map((source, at) => ({
      classes: columns[source] as Int32Array,
      numbers: this.#narrowed?.[at]?.numbers(),
    })) as [Column, ...Column[]];
    if (others.length === 0) return mapped(first, count, own);
    let folded = first;
    others.forEach((column, at) => {
      (this.#folds[at] as Fold).rows(folded, column, count, own);
      folded = { classes: own };
    });
    return own;
  }
}

function mapped({ classes, numbers }: Column, count: number, into: Int32Array): Int32Array {
  if (numbers === undefined) return classes;
  for (let at = 0; at < count; at++) into[at] = numbers[classes[at] as number] as number;
  return into;
}
