import { mix, WordTable } from '../../column/index.js';
import { testedBy } from './axis.js';
import type { Chain } from './chain.js';
import type { ClassSpace } from './class-space.js';
import type { Group } from './group.js';
import { groupClauses } from './group.js';
import { GroupFold } from './group-fold.js';
import type { Source } from './source/source.js';

/** Above so many words of classes all are forgotten before the next block, so that memory stays bounded. */
const MOST_WORDS = 2 ** 25;

/**
 * Takes the classes of rows together, group by group of clauses: a few look-ups a row in small tables, whatever the
 * number of rules. What the groups say together makes the class.
 */
export class GroupChain implements Chain {
  readonly #sources: readonly Source[];
  readonly #groups: readonly Group[];
  readonly #mostWords: number;
  #folds: readonly GroupFold[] = [];
  /** Numbers what several groups say together. */
  #table = new WordTable(1);
  /** The class of the first number that was given since all was forgotten. */
  #base = 0;
  #examples: number[][] = [];
  #columns: readonly Int32Array[] = [];
  #classes = new Int32Array(0);

  /** `mostWords` bounds the memory of the classes. */
  constructor(sources: readonly Source[], words: number, clauses: number, mostWords = MOST_WORDS) {
    this.#sources = sources;
    this.#mostWords = mostWords;
    this.#groups = groupClauses(
      sources.map(({ classes }) => testedBy(classes.axes, words)),
      clauses,
    );
    this.#start();
  }

  rows(count: number, fill: (source: Source, into: Int32Array) => void): Int32Array {
    if (count === 0) return this.#classes;
    this.#reserve(count);
    this.#sources.forEach((source, at) => {
      fill(source, this.#columns[at] as Int32Array);
    });
    const folded = this.#folds.map((fold) => fold.rows(this.#columns, count));
    const [only, fold] = [folded[0], this.#folds[0]];
    if (folded.length === 1 && fold?.inOrder && this.#base === 0) {
      this.#exemplify(only as Int32Array, count, fold.count);
      return only as Int32Array;
    }
    this.#number(folded, count);
    this.#exemplify(this.#classes, count, this.#base + this.#table.count);
    return this.#classes;
  }

  example(number: number): number[] {
    return this.#examples[number - this.#base] as number[];
  }

  #start(): void {
    const spaces = this.#sources.map(({ classes }): ClassSpace => classes);
    this.#base += this.#examples.length;
    this.#examples = [];
    this.#folds = this.#groups.map((group) => new GroupFold(group, spaces, this.#groups.length === 1));
    this.#table = new WordTable(Math.max(1, this.#groups.length));
  }

  #reserve(count: number): void {
    const size = this.#folds.reduce((sum, fold) => sum + fold.size, this.#table.rows.length);
    if (size > this.#mostWords) this.#start();
    if (this.#classes.length >= count) return;
    this.#columns = this.#sources.map(() => new Int32Array(count));
    this.#classes = new Int32Array(count);
  }

  /** Numbers the rows by the classes of all groups. */
  #number(folded: readonly Int32Array[], count: number): void {
    const width = folded.length;
    const row = new Int32Array(width);
    const table = this.#table;
    const base = this.#base;
    for (let at = 0; at < count; at++) {
      let hash = 0;
      for (let group = 0; group < width; group++) {
        const number = (folded[group] as Int32Array)[at] as number;
        row[group] = number;
        hash = mix(hash, number);
      }
      this.#classes[at] = table.numberHashed(row, 0, hash) + base;
    }
  }

  /** Keeps an example of each class that is new in the rows, up to that number. */
  #exemplify(classes: Int32Array, count: number, upTo: number): void {
    const examples = this.#examples;
    let next = this.#base + examples.length;
    // Classes are numbered in the order in which they come.
    for (let at = 0; at < count && next < upTo; at++) {
      if (classes[at] !== next) continue;
      examples.push(this.#columns.map((column) => column[at] as number));
      next++;
    }
  }
}
