import { HASH_START, hashWord, rowKindsOfExamples, WordTable } from '../../column/index.js';
import { Kernel } from '../../kernel/index.js';
import { testedBy } from './axis.js';
import { type ClassColumn, classAt } from './class-column.js';
import type { ClassSpace } from './class-space.js';
import type { Classifier } from './classifier.js';
import type { Group } from './group.js';
import { groupClauses } from './group.js';
import { GroupProduct } from './group-product.js';
import { PlacedRows } from './placed-rows.js';
import { noClients } from './source/addresses.js';
import type { Block } from './source/block.js';
import type { Source } from './source/source.js';

/** Drops all classes before the next block above this many 32-bit words, so that memory stays bounded. */
const MOST_WORDS = 2 ** 25;

/**
 * Classifies rows: a few look-ups a row in small cross-product tables for each group of clauses, whatever the number of
 * rules. The numbers of all groups together make the class.
 */
export class RowClassifier implements Classifier {
  readonly #sources: readonly Source[];
  readonly #groups: readonly Group[];
  readonly #mostWords: number;
  #kernel: Kernel | undefined;
  #products: readonly GroupProduct[] = [];
  /** Numbers what several groups say together. */
  #table = new WordTable(1);
  /** The class of the first number that was given since all was forgotten. */
  #base = 0;
  /** The classes of the last block, by source. */
  #columns: readonly ClassColumn[] = [];
  /** Scratch columns, one a source, for classes row by row. */
  #room: readonly Uint32Array[] = [];
  #classes = new Uint32Array(0);

  /** `kernel`: that of the run, by default its own; `mostWords` bounds the memory of the classes. */
  constructor(sources: readonly Source[], words: number, clauses: number, kernel?: Kernel, mostWords = MOST_WORDS) {
    this.#sources = sources;
    this.#kernel = kernel;
    this.#mostWords = mostWords;
    this.#groups = groupClauses(
      sources.map(({ classes }) => testedBy(classes.axes, words)),
      clauses,
    );
    this.#start();
  }

  get base(): number {
    return this.#base;
  }

  rows(block: Block): Uint32Array {
    const count = block.rows.length;
    if (count === 0) return this.#classes;
    // The kinds are those of the chunk, of which the block may be a small part.
    this.#reserve(Math.max(count, block.kinds.examples.length));
    const ofKinds = exampleBlock(block);
    this.#columns = this.#sources.map((source, at) => columnOf(source, block, ofKinds, this.#room[at] as Uint32Array));
    this.#kernel ??= new Kernel();
    const placed = new PlacedRows(this.#kernel, count);
    const crossed = this.#products.map((product) => product.rows(this.#columns, placed));
    if (this.#isPlain) return crossed[0] as Uint32Array;
    this.#number(crossed, count);
    return this.#classes;
  }

  example(_: number, place: number): number[] {
    return this.#columns.map((column) => classAt(column, place));
  }

  /** Whether what the only group says is the class. */
  get #isPlain(): boolean {
    return this.#products.length === 1 && this.#base === 0;
  }

  #start(): void {
    const spaces = this.#sources.map(({ classes }): ClassSpace => classes);
    this.#base += this.#isPlain ? (this.#products[0] as GroupProduct).count : this.#table.count;
    this.#products = this.#groups.map((group) => new GroupProduct(group, spaces, this.#groups.length === 1));
    this.#table = new WordTable(Math.max(1, this.#groups.length));
  }

  #reserve(count: number): void {
    const size = this.#products.reduce((sum, product) => sum + product.size, this.#table.rows.length);
    if (size > this.#mostWords) {
      for (const product of this.#products) product.release(this.#kernel);
      this.#start();
    }
    if (this.#classes.length >= count) return;
    this.#room = this.#sources.map(() => new Uint32Array(count));
    this.#classes = new Uint32Array(count);
  }

  /** Numbers the rows by the classes of all groups. */
  #number(crossed: readonly Uint32Array[], count: number): void {
    const width = crossed.length;
    const row = new Uint32Array(width);
    const table = this.#table;
    const base = this.#base;
    for (let at = 0; at < count; at++) {
      let hash = HASH_START;
      for (let group = 0; group < width; group++) {
        const number = (crossed[group] as Uint32Array)[at] as number;
        row[group] = number;
        hash = hashWord(hash, number);
      }
      this.#classes[at] = table.numberHashed(row, 0, hash) + base;
    }
  }
}

/** One example row for each kind of a block. The clients are left out; do not ask a source that depends on them. */
function exampleBlock(block: Block): Block {
  const { examples } = block.kinds;
  return { ...block, rows: examples, clients: noClients(examples.length), kinds: rowKindsOfExamples(block.kinds) };
}

/** The classes of a source: one a kind when the source depends on the columns of kinds only, else one a row. */
function columnOf(source: Source, block: Block, ofKinds: Block, room: Uint32Array): ClassColumn {
  const { kinds } = block;
  if (!source.columns?.every((column) => kinds.holds(column))) return source.rows(block, room);
  const column = source.rows(ofKinds, room);
  const classes = new Int32Array(ofKinds.rows.length);
  for (let kind = 0; kind < classes.length; kind++) classes[kind] = classAt(column, kind);
  return { codes: kinds.codes, classes };
}
