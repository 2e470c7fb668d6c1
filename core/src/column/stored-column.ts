import type { Codes, NumberColumn, RowCodes, TextBytes, TextColumn } from './column.js';
import { decodeTexts } from './texts.js';

/** A column of numbers as stored; decoded on first use, since most work needs few columns. */
export class StoredNumberColumn implements NumberColumn {
  readonly type = 'number';
  readonly #stored: NumberReader;
  #values: Float64Array | undefined;

  constructor(stored: NumberReader) {
    this.#stored = stored;
  }

  get values(): Float64Array {
    this.#values ??= this.#stored.all();
    return this.#values;
  }

  at(row: number): number {
    return this.#values || !this.#stored.at ? (this.values[row] as number) : this.#stored.at(row);
  }

  coded(): RowCodes | undefined {
    return this.#stored.coded?.();
  }
}

/** Reads a column of numbers: all values, or one without the others, or what is in place of values. */
interface NumberReader {
  readonly all: () => Float64Array;
  readonly at?: (row: number) => number;
  readonly coded?: () => RowCodes | undefined;
}

/** A text column as stored. Its texts are decoded on first use, which replays rarely need. */
export class StoredTextColumn implements TextColumn {
  readonly type = 'text';
  readonly #body: Uint8Array;
  readonly #width: number;
  readonly #textsAt: number;
  readonly #codesAt: number;
  #codes: Codes | undefined;
  #bytes: TextBytes | undefined;
  #dictionary: readonly string[] | undefined;

  constructor(body: Uint8Array, width: number, textsAt: number, codesAt: number) {
    this.#body = body;
    this.#width = width;
    this.#textsAt = textsAt;
    this.#codesAt = codesAt;
  }

  get codes(): Codes {
    this.#codes ??= codesFrom(this.#width, this.#body.subarray(this.#codesAt));
    return this.#codes;
  }

  get bytes(): TextBytes {
    this.#bytes ??= {
      texts: this.#body.subarray(this.#textsAt, this.#codesAt),
      ends: new Uint32Array(alignedCopy(this.#body.subarray(8, this.#textsAt))),
    };
    return this.#bytes;
  }

  get dictionary(): readonly string[] {
    this.#dictionary ??= decodeTexts(this.bytes);
    return this.#dictionary;
  }
}

/** The codes of a column from their bytes, of 1, 2 or 4 bytes each. The result is a copy. */
export function codesFrom(width: number, body: Uint8Array): Codes {
  if (width === 1) return new Uint32Array(body);
  return width === 4 ? new Uint32Array(alignedCopy(body)) : new Uint32Array(new Uint16Array(alignedCopy(body)));
}

/** A copy, so that it is aligned; `slice` would share memory where the bytes are a Node Buffer. */
export const alignedCopy = (bytes: Uint8Array): ArrayBuffer => new Uint8Array(bytes).buffer as ArrayBuffer;
