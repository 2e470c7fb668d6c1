import { HASH_START, hashWord, kindsOfExamples, WordTable } from '../../column/index.js';
import { testedBy } from './axis.js';
import type { Chain } from './chain.js';
import { type ClassColumn, classAt } from './class-column.js';
import type { ClassSpace } from './class-space.js';
import type { Group } from './group.js';
import { groupClauses } from './group.js';
import { GroupFold } from './group-fold.js';
import { noClients } from './source/addresses.js';
import type { Block } from './source/block.js';
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
  /** The last block, as each source tells it. */
  #columns: readonly ClassColumn[] = [];
  /** Room for those of them that tell each row by itself. */
  #room: readonly Uint32Array[] = [];
  #classes = new Uint32Array(0);

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
    if (count === 0) return this.#classes;
    // The kinds are those of the chunk, of which the block may be a small part.
    this.#reserve(Math.max(count, block.kinds.examples.length));
    const ofKinds = exampleBlock(block);
    this.#columns = this.#sources.map((source, at) => columnOf(source, block, ofKinds, this.#room[at] as Uint32Array));
    const folded = this.#folds.map((fold) => fold.rows(this.#columns, count));
    if (this.#isPlain) return folded[0] as Uint32Array;
    this.#number(folded, count);
    return this.#classes;
  }

  example(_: number, place: number): number[] {
    return this.#columns.map((column) => classAt(column, place));
  }

  /** Whether what the only group says is the class. */
  get #isPlain(): boolean {
    return this.#folds.length === 1 && this.#base === 0;
  }

  #start(): void {
    const spaces = this.#sources.map(({ classes }): ClassSpace => classes);
    this.#base += this.#isPlain ? (this.#folds[0] as GroupFold).count : this.#table.count;
    this.#folds = this.#groups.map((group) => new GroupFold(group, spaces, this.#groups.length === 1));
    this.#table = new WordTable(Math.max(1, this.#groups.length));
  }

  #reserve(count: number): void {
    const size = this.#folds.reduce((sum, fold) => sum + fold.size, this.#table.rows.length);
    if (size > this.#mostWords) this.#start();
    if (this.#classes.length >= count) return;
    this.#room = this.#sources.map(() => new Uint32Array(count));
    this.#classes = new Uint32Array(count);
  }

  /** Numbers the rows by the classes of all groups. */
  #number(folded: readonly Uint32Array[], count: number): void {
    const width = folded.length;
    const row = new Uint32Array(width);
    const table = this.#table;
    const base = this.#base;
    for (let at = 0; at < count; at++) {
      let hash = HASH_START;
      for (let group = 0; group < width; group++) {
        const number = (folded[group] as Uint32Array)[at] as number;
        row[group] = number;
        hash = hashWord(hash, number);
      }
      this.#classes[at] = table.numberHashed(row, 0, hash) + base;
    }
  }
}

/** The rows that stand for the kinds of a block. Nothing that hangs on the client is asked of them. */
function exampleBlock({ table, kinds }: Block): Block {
  const { examples } = kinds;
  return { table, rows: examples, clients: noClients(examples.length), kinds: kindsOfExamples(kinds) };
}

/** What a source says of a block: of each kind of rows where that is all that it hangs on, else of the rows. */
function columnOf(source: Source, block: Block, ofKinds: Block, room: Uint32Array): ClassColumn {
  const { kinds } = block;
  if (!source.columns?.every((column) => kinds.holds(column))) return source.rows(block, room);
  const column = source.rows(ofKinds, room);
  const classes = new Int32Array(ofKinds.rows.length);
  for (let kind = 0; kind < classes.length; kind++) classes[kind] = classAt(column, kind);
  return { codes: kinds.codes, classes };
}
