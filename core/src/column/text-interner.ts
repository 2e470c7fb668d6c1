import type { Kernel } from '../kernel/index.js';
import type { ColumnTable, TextBytes, TextColumn } from './column.js';
import { hashSecrets } from './hash.js';

const MOST_TEXTS = 500_000;
const MOST_BYTES = 2 ** 26;

/** The ids of a column's texts. Equal texts of one era have the same id, in whatever chunk they are. */
export interface TextIds {
  /** For each code the id of its text; 0 for code 0, which is absent. */
  readonly ids: Uint32Array;
  /** The ids lie below this. */
  readonly count: number;
  /** Another object after the interner was emptied. */
  readonly era: object;
}

/** Numbers the texts of one column across chunks. Empties itself when full, so that its memory is bounded. */
export class TextInterner {
  readonly #kernel: Kernel;
  #arena: number;
  #era = {};

  constructor(kernel: Kernel) {
    this.#kernel = kernel;
    this.#arena = kernel.calls.newArena();
  }

  /** The ids of all texts of a dictionary. */
  ids(column: TextColumn): TextIds {
    const kernel = this.#kernel;
    const { calls } = kernel;
    if (calls.arenaCount(this.#arena) >= MOST_TEXTS || calls.arenaLength(this.#arena) >= MOST_BYTES) {
      calls.releaseArena(this.#arena);
      this.#arena = calls.newArena();
      this.#era = {};
    }
    const { texts, ends } = column.bytes ?? encodeTexts(column.dictionary);
    kernel.reset();
    const [textsAt, endsAt, idsAt] = [kernel.put(texts), kernel.put(ends), kernel.take(ends.byteLength)];
    const { start, spread } = hashSecrets();
    calls.intern(this.#arena, textsAt, endsAt, ends.length, idsAt, start, spread);
    const ids = new Uint32Array(ends.length + 1);
    ids.set(kernel.words(idsAt, ends.length), 1);
    return { ids, count: calls.arenaCount(this.#arena) + 1, era: this.#era };
  }
}

/** The interners of a run, by column. */
export class TextInterners {
  readonly #kernel: Kernel;
  readonly #byColumn = new Map<string, TextInterner>();

  constructor(kernel: Kernel) {
    this.#kernel = kernel;
  }

  of(column: string): TextInterner {
    const interner = this.#byColumn.get(column) ?? new TextInterner(this.#kernel);
    this.#byColumn.set(column, interner);
    return interner;
  }
}

/** The ids of a chunk's texts. Each column is numbered once, on first use. */
export class ChunkTexts {
  readonly #table: ColumnTable;
  readonly #interners: TextInterners;
  readonly #ids = new Map<string, TextIds>();

  constructor(table: ColumnTable, interners: TextInterners) {
    this.#table = table;
    this.#interners = interners;
  }

  /** The ids of a column of texts; undefined where the chunk has no such column. */
  ids(name: string): TextIds | undefined {
    const column = this.#table.columns.get(name);
    if (column?.type !== 'text') return undefined;
    const ids = this.#ids.get(name) ?? this.#interners.of(name).ids(column);
    this.#ids.set(name, ids);
    return ids;
  }
}

/** What is known of texts by their ids, from chunk to chunk; forgotten with their era. */
export class NumbersById {
  #era: object | undefined;
  #numbers = new Int32Array(64);

  /** The number of each id below the count, to be read and written; `NOT_KNOWN_BY_ID` where nothing was written. */
  of({ count, era }: TextIds): Int32Array {
    if (era !== this.#era) this.#numbers.fill(NOT_KNOWN_BY_ID);
    this.#era = era;
    if (count > this.#numbers.length) {
      const larger = new Int32Array(Math.max(count, this.#numbers.length * 2)).fill(NOT_KNOWN_BY_ID);
      larger.set(this.#numbers);
      this.#numbers = larger;
    }
    return this.#numbers;
  }
}

export const NOT_KNOWN_BY_ID = -(2 ** 31);

function encodeTexts(dictionary: readonly string[]): TextBytes {
  const encoder = new TextEncoder();
  const parts = dictionary.map((text) => encoder.encode(text));
  const ends = new Uint32Array(parts.length);
  const texts = new Uint8Array(parts.reduce((sum, { length }) => sum + length, 0));
  let end = 0;
  for (const [at, part] of parts.entries()) {
    texts.set(part, end);
    end += part.length;
    ends[at] = end;
  }
  return { texts, ends };
}
