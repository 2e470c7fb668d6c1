import { hashSecrets, rowKindsOfExamples } from '../../column/index.js';
import type { Kernel } from '../../kernel/index.js';
import { testedBy } from './axis.js';
import { type ClassColumn, classAt } from './class-column.js';
import type { ClassSpace } from './class-space.js';
import type { Classifier } from './classifier.js';
import type { Group } from './group.js';
import { groupClauses } from './group.js';
import { GroupProduct } from './group-product.js';
import { KernelRows } from './kernel-rows.js';
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
  /** The kernel that has the tables: that of the run whose block was last. */
  #kernel: Kernel | undefined;
  #products: readonly GroupProduct[] = [];
  /** The arena of the kernel that numbers what several groups say together. */
  #arena: number | undefined;
  /** The class of the first number that was given since all was forgotten. */
  #base = 0;
  /** The classes of the last block, by source. */
  #columns: readonly ClassColumn[] = [];
  /** Scratch columns, one a source, for classes row by row. */
  #room: readonly Uint32Array[] = [];

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

  get base(): number {
    return this.#base;
  }

  rows(block: Block): Uint32Array {
    const count = block.rows.length;
    if (count === 0) return new Uint32Array(0);
    if (this.#kernel !== undefined && this.#kernel !== block.kernel) this.#forget(this.#kernel);
    this.#kernel = block.kernel;
    // The kinds are those of the chunk, of which the block may be a small part.
    this.#reserve(Math.max(count, block.kinds.examples.length), block.kernel);
    const ofKinds = exampleBlock(block);
    this.#columns = this.#sources.map((source, at) => columnOf(source, block, ofKinds, this.#room[at] as Uint32Array));
    const kernelRows = new KernelRows(block.kernel, count);
    const columns = this.#columns.map((column) => kernelRows.column(column));
    const crossed = this.#products.map((product) => kernelRows.classes(product.rows(columns, kernelRows)));
    return kernelRows.numbers(this.#isPlain ? (crossed[0] as number) : this.#number(crossed, kernelRows));
  }

  example(_: number, place: number): number[] {
    return this.#columns.map((column) => classAt(column, place));
  }

  /** Whether what the only group says is the class. */
  get #isPlain(): boolean {
    return this.#products.length === 1 && this.#base === 0;
  }

  /** How many classes there are since all was forgotten. */
  #count({ calls }: Kernel): number {
    if (this.#isPlain) return (this.#products[0] as GroupProduct).count;
    return this.#arena === undefined ? 0 : calls.arenaCount(this.#arena);
  }

  #start(): void {
    const spaces = this.#sources.map(({ classes }): ClassSpace => classes);
    this.#products = this.#groups.map((group) => new GroupProduct(group, spaces, this.#groups.length === 1));
  }

  /** Forgets all classes. Those that come then have other numbers. */
  #forget(kernel: Kernel): void {
    this.#base += this.#count(kernel);
    for (const product of this.#products) product.release(kernel);
    if (this.#arena !== undefined) kernel.calls.releaseArena(this.#arena);
    this.#arena = undefined;
    this.#start();
  }

  #reserve(count: number, kernel: Kernel): void {
    const numbered = this.#arena === undefined ? 0 : kernel.calls.arenaLength(this.#arena) / 4;
    const size = this.#products.reduce((sum, product) => sum + product.size, numbered);
    if (size > this.#mostWords) this.#forget(kernel);
    if ((this.#room[0]?.length ?? 0) < count) this.#room = this.#sources.map(() => new Uint32Array(count));
  }

  /** A pointer to the rows' numbers by the classes of all groups. */
  #number(crossed: readonly number[], kernelRows: KernelRows): number {
    const { kernel, count } = kernelRows;
    const { calls } = kernel;
    this.#arena ??= calls.newArena();
    const [into, columns, row] = [
      kernelRows.take(),
      kernel.put(Uint32Array.from(crossed)),
      kernel.take(crossed.length * 4),
    ];
    const { start, spread } = hashSecrets();
    calls.internRows(this.#arena, columns, crossed.length, count, into, row, start, spread);
    if (this.#base > 0) {
      const numbers = kernel.words(into, count);
      for (let at = 0; at < count; at++) numbers[at] = (numbers[at] as number) + this.#base;
    }
    return into;
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
