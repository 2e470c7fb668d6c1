import type { ClientFinding, Request } from '../../request/index.js';
import { type Chain, NOT_ASKED } from './chain.js';
import { WordTable } from './intern.js';
import type { Source } from './source/source.js';
import { mix, setVectorBit } from './vector.js';

/** Stands for the request by itself, among the rows. */
const SINGLE = -1;

/**
 * Takes the vectors of a row's classes together, word by word, and goes on to the next word as soon as nothing of one
 * is possible. What is left of the clauses, and what is not seen of it, makes the class.
 */
export class RowChain implements Chain {
  readonly #sources: readonly Source[];
  /** The sources that rule out most come first; so that the others are seldom looked at. */
  readonly #order: readonly number[];
  readonly #tested: readonly Uint32Array[];
  /** For each word the sources that a clause of it is tested on, those that rule out most first. */
  readonly #testing: readonly (readonly number[])[];
  readonly #words: number;
  readonly #valid: Uint32Array;
  /** The clauses that hold, those that may, and the mark of what is not seen. */
  readonly #left: Uint32Array;
  readonly #table: WordTable;
  readonly #examples: number[][] = [];
  readonly #marks = new Map<string, number>();
  /** Where the vectors of the row's classes start, source by source. */
  readonly #bases: Int32Array;
  /** The classes of a request by itself. */
  readonly #single: Int32Array;
  #columns: readonly Int32Array[] = [];
  #classes = new Int32Array(0);

  constructor(sources: readonly Source[], words: number, clauses: number) {
    this.#sources = sources;
    this.#words = words;
    this.#bases = new Int32Array(sources.length);
    this.#single = new Int32Array(sources.length);
    this.#tested = sources.map(({ classes }) => testedBy(classes.axes, words));
    const bits = this.#tested.map((tested) => tested.reduce((sum, word) => sum + bitCount(word), 0));
    this.#order = sources.map((_, at) => at).sort((a, b) => (bits[b] as number) - (bits[a] as number));
    this.#testing = Array.from({ length: words }, (_, word) =>
      this.#order.filter((source) => (this.#tested[source] as Uint32Array)[word] !== 0),
    );
    this.#valid = new Uint32Array(words);
    for (let clause = 0; clause < clauses; clause++) setVectorBit(this.#valid, clause);
    this.#left = new Uint32Array(2 * words + 1);
    this.#table = new WordTable(2 * words + 1);
  }

  rows(count: number, fill: (source: Source, into: Int32Array) => void): Int32Array {
    if (this.#classes.length < count) {
      this.#columns = this.#sources.map(() => new Int32Array(count));
      this.#classes = new Int32Array(count);
    }
    this.#sources.forEach((source, at) => {
      fill(source, this.#columns[at] as Int32Array);
    });
    const vectors = this.#sources.map((source) => source.classes.combined);
    for (let at = 0; at < count; at++) this.#classes[at] = this.#row(this.#columns, vectors, at);
    return this.#classes;
  }

  /**
   * The class of one request. Sources that no clause asks for which is still possible are not looked at: most requests
   * are settled by the first few.
   */
  one(request: Request, client: ClientFinding): number {
    const words = this.#words;
    const left = this.#left;
    left.set(this.#valid, 0);
    left.set(this.#valid, words);
    const classes = this.#single.fill(NOT_ASKED);
    for (const source of this.#order) {
      if (!intersects(left, words, this.#tested[source] as Uint32Array)) continue;
      const { classes: table } = this.#sources[source] as Source;
      const number = (this.#sources[source] as Source).one(request, client);
      classes[source] = number;
      const vectors = table.combined;
      for (let at = 0, from = number * 2 * words; at < 2 * words; at++, from++)
        left[at] = (left[at] as number) & (vectors[from] as number);
    }
    let hash = 0;
    let unsure = 0;
    for (let word = 0; word < words; word++) {
      const possible = left[words + word] as number;
      if (possible !== 0) hash = mix(mix(hash, word), left[word] as number);
      unsure |= (left[word] as number) ^ possible;
    }
    return this.#numbered(hash, unsure, SINGLE);
  }

  example(number: number): number[] {
    return this.#examples[number] as number[];
  }

  #row(columns: readonly Int32Array[], vectors: readonly Uint32Array[], at: number): number {
    const words = this.#words;
    const valid = this.#valid;
    const left = this.#left;
    const width = columns.length;
    const bases = this.#bases;
    let hash = 0;
    let unsure = 0;
    for (let source = 0; source < width; source++)
      bases[source] = ((columns[source] as Int32Array)[at] as number) * 2 * words;
    for (let word = 0; word < words; word++) {
      let possible = valid[word] as number;
      const testing = this.#testing[word] as readonly number[];
      for (let place = 0; place < testing.length && possible !== 0; place++) {
        const source = testing[place] as number;
        possible &= (vectors[source] as Uint32Array)[(bases[source] as number) + words + word] as number;
      }
      left[words + word] = possible;
      if (possible === 0) {
        left[word] = 0;
        continue;
      }
      // What holds is part of what may, so that it need not be looked at before.
      let match = possible;
      for (let place = 0; place < testing.length && match !== 0; place++) {
        const source = testing[place] as number;
        match &= (vectors[source] as Uint32Array)[(bases[source] as number) + word] as number;
      }
      left[word] = match;
      hash = mix(mix(hash, word), match);
      unsure |= match ^ possible;
    }
    return this.#numbered(hash, unsure, at);
  }

  #numbered(hash: number, unsure: number, at: number): number {
    const mark = unsure === 0 ? 0 : this.#markOf(at);
    this.#left[2 * this.#words] = mark;
    const number = this.#table.numberHashed(this.#left, 0, mix(hash, mark));
    if (number === this.#examples.length)
      this.#examples.push(this.#sources.map((_, source) => this.#classAt(source, at)));
    return number;
  }

  #classAt(source: number, at: number): number {
    return (at === SINGLE ? this.#single[source] : (this.#columns[source] as Int32Array)[at]) as number;
  }

  /** What is not seen, where that matters: what a rule does not see is told by it. */
  #markOf(at: number): number {
    let key = '';
    for (let source = 0; source < this.#sources.length; source++) {
      const number = this.#classAt(source, at);
      key += number === NOT_ASKED ? '- ' : `${this.#sources[source]?.classes.mark(number)} `;
    }
    const known = this.#marks.get(key) ?? this.#marks.size + 1;
    this.#marks.set(key, known);
    return known;
  }
}

function testedBy(axes: Source['classes']['axes'], words: number): Uint32Array {
  const tested = new Uint32Array(words);
  for (const axis of axes)
    for (let at = 0; at < words; at++) tested[at] = (tested[at] as number) | (axis.tested[at] as number);
  return tested;
}

function intersects(left: Uint32Array, words: number, tested: Uint32Array): boolean {
  for (let at = 0; at < words; at++) if (((left[words + at] as number) & (tested[at] as number)) !== 0) return true;
  return false;
}

function bitCount(word: number): number {
  let count = 0;
  for (let left = word; left !== 0; left &= left - 1) count++;
  return count;
}
