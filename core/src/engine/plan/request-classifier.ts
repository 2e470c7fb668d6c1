import { HASH_START, hashWord, WordTable } from '../../column/index.js';
import type { ClientFinding, Request } from '../../request/index.js';
import { testedBy } from './axis.js';
import { type Classifier, NOT_ASKED } from './classifier.js';
import type { Source } from './source/source.js';
import { bitCount, setVectorBit } from './vector.js';

/** The classifier is full at this many 32-bit words. */
const MOST_WORDS = 2 ** 24;

/**
 * Classifies one request: intersects the vectors of its class in each source. The clauses that remain, and which of its
 * fields are unseen, make the class.
 */
export class RequestClassifier implements Classifier {
  readonly base = 0;
  readonly #sources: readonly Source[];
  /** The sources that most clauses are tested on come first; so that the others are seldom looked at. */
  readonly #order: readonly number[];
  readonly #tested: readonly Uint32Array[];
  readonly #words: number;
  readonly #valid: Uint32Array;
  /** The clauses that hold, those that may, and the mark of what is not seen. */
  readonly #left: Uint32Array;
  readonly #table: WordTable;
  readonly #examples: number[][] = [];
  readonly #marks = new Map<string, number>();
  readonly #classes: Int32Array;

  constructor(sources: readonly Source[], words: number, clauses: number) {
    this.#sources = sources;
    this.#words = words;
    this.#classes = new Int32Array(sources.length);
    this.#tested = sources.map(({ classes }) => testedBy(classes.axes, words));
    const bits = this.#tested.map((tested) => tested.reduce((sum, word) => sum + bitCount(word), 0));
    this.#order = sources.map((_, at) => at).sort((a, b) => (bits[b] as number) - (bits[a] as number));
    this.#valid = new Uint32Array(words);
    for (let clause = 0; clause < clauses; clause++) setVectorBit(this.#valid, clause);
    this.#left = new Uint32Array(2 * words + 1);
    this.#table = new WordTable(2 * words + 1);
  }

  /** Whether it has so many classes that a new one should replace it, so that memory stays bounded. */
  get full(): boolean {
    return this.#table.rows.length > MOST_WORDS;
  }

  /**
   * The class of one request. Sources that no remaining clause tests are not looked at: most requests
   * are resolved by the first few.
   */
  one(request: Request, client: ClientFinding): number {
    const words = this.#words;
    const left = this.#left;
    const valid = this.#valid;
    const classes = this.#classes;
    const order = this.#order;
    // Loops over so few are faster than to call for them.
    for (let at = 0; at < words; at++) {
      left[at] = valid[at] as number;
      left[words + at] = valid[at] as number;
    }
    for (let place = 0; place < order.length; place++) {
      const number = order[place] as number;
      const source = this.#sources[number] as Source;
      if (!intersects(left, words, this.#tested[number] as Uint32Array)) {
        classes[number] = NOT_ASKED;
        continue;
      }
      const found = source.one(request, client);
      classes[number] = found;
      const vectors = source.classes.combined;
      for (let at = 0, from = found * 2 * words; at < 2 * words; at++, from++)
        left[at] = (left[at] as number) & (vectors[from] as number);
    }
    let hash = HASH_START;
    let unsure = 0;
    for (let word = 0; word < words; word++) {
      const possible = left[words + word] as number;
      if (possible !== 0) hash = hashWord(hashWord(hash, word), left[word] as number);
      unsure |= (left[word] as number) ^ possible;
    }
    return this.#numbered(hash, unsure);
  }

  example(number: number): number[] {
    return this.#examples[number] as number[];
  }

  #numbered(hash: number, unsure: number): number {
    const mark = unsure === 0 ? 0 : this.#mark();
    this.#left[2 * this.#words] = mark;
    const number = this.#table.numberHashed(this.#left, 0, hashWord(hash, mark));
    if (number === this.#examples.length) this.#examples.push([...this.#classes]);
    return number;
  }

  /** Numbers what is unseen, when that matters: it becomes the blind spots of rules. */
  #mark(): number {
    let key = '';
    for (let source = 0; source < this.#sources.length; source++) {
      const number = this.#classes[source] as number;
      key += number === NOT_ASKED ? '- ' : `${this.#sources[source]?.classes.mark(number)} `;
    }
    const known = this.#marks.get(key) ?? this.#marks.size + 1;
    this.#marks.set(key, known);
    return known;
  }
}

function intersects(left: Uint32Array, words: number, tested: Uint32Array): boolean {
  for (let at = 0; at < words; at++) if (((left[words + at] as number) & (tested[at] as number)) !== 0) return true;
  return false;
}
