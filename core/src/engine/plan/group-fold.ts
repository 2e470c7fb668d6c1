import { type ClassColumn, classesOfRows } from './class-column.js';
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
    this.#narrowed = whole ? undefined : own.map((space) => new Narrowed(space, group.clauses));
    const words = this.#narrowed?.[0]?.words ?? group.clauses.length;
    const from: readonly ClassSpace[] = this.#narrowed ?? own;
    const folds: Fold[] = [];
    from.slice(1).forEach((space, at) => {
      folds.push(new Fold(folds[at - 1] ?? (from[0] as ClassSpace), space, words));
    });
    this.#folds = folds;
    this.#spaces = [...(this.#narrowed ?? []), ...folds];
    this.#last = folds.at(-1) ?? (from[0] as ClassSpace);
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
    let folded = this.#column(0, columns);
    for (const [at, fold] of this.#folds.entries()) {
      const column = this.#column(at + 1, columns);
      if (folded.codes === column.codes && folded.classes && column.classes) {
        // What hangs on the same codes is taken together code by code, and rows wait for something of their own.
        folded = { codes: folded.codes, classes: fold.codes(folded.classes, column.classes) };
        continue;
      }
      fold.rows(folded, column, count, own);
      folded = { codes: own };
    }
    return classesOfRows(folded, count, own);
  }

  /** The classes of one source, as far as the group goes. */
  #column(at: number, columns: readonly ClassColumn[]): ClassColumn {
    const column = columns[this.#group.sources[at] as number] as ClassColumn;
    const numbers = this.#narrowed?.[at]?.numbers();
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
