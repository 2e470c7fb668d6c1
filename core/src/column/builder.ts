import type { NumberColumn, TextColumn } from './column.js';
import { hashBytes } from './hash.js';
import { TextArena } from './text-arena.js';
import { BytesTextColumn } from './texts.js';

const encoder = new TextEncoder();
/** Longer texts are seldom the same, and engines hash very long ones by their length alone. */
const LONGEST_KNOWN = 2000;

/** Grows a dictionary-encoded column row by row. Rows that nothing is set for are absent. */
export class TextColumnBuilder {
  readonly #arena = new TextArena();
  /** The codes of texts that came as such: encoding one costs more than looking it up. */
  readonly #known = new Map<string, number>();
  readonly #codes: Uint32Array;

  constructor(mostRows: number) {
    this.#codes = new Uint32Array(mostRows);
  }

  set(row: number, text: string): void {
    this.#codes[row] = this.code(text);
  }

  /** The code of a text, for `setCode`. */
  code(text: string): number {
    let code = text.length > LONGEST_KNOWN ? undefined : this.#known.get(text);
    if (code === undefined) {
      const bytes = encoder.encode(text);
      code = this.#arena.number(bytes, 0, bytes.length, hashBytes(bytes, 0, bytes.length)) + 1;
      if (text.length <= LONGEST_KNOWN) this.#known.set(text, code);
    }
    return code;
  }

  setCode(row: number, code: number): void {
    this.#codes[row] = code;
  }

  /** The code of a text that is there in UTF-8, with its hash. */
  codeOfBytes(bytes: Uint8Array, start: number, end: number, hash: number): number {
    return this.#arena.number(bytes, start, end, hash) + 1;
  }

  build(rows: number): TextColumn {
    return new BytesTextColumn(this.#arena.bytes(), this.#codes.slice(0, rows));
  }
}

/** Grows a column of numbers row by row. Rows that nothing is set for are absent. */
export class NumberColumnBuilder {
  readonly #values: Float64Array;

  constructor(mostRows: number) {
    this.#values = new Float64Array(mostRows).fill(Number.NaN);
  }

  set(row: number, value: number): void {
    this.#values[row] = value;
  }

  build(rows: number): NumberColumn {
    return { type: 'number', values: this.#values.slice(0, rows) };
  }
}

/** Builds a dictionary-encoded column whose writer looks codes up once, and sets them row by row itself. */
export class CodedTextBuilder {
  /** The code of each row; 0 is absent. */
  readonly codes: Uint32Array;
  readonly #codeOf = new Map<string, number>();

  constructor(rows: number) {
    this.codes = new Uint32Array(rows);
  }

  /** The code of a text; 0 for none. */
  code(text: string | undefined): number {
    if (text === undefined) return 0;
    let code = this.#codeOf.get(text);
    if (code === undefined) {
      code = this.#codeOf.size + 1;
      this.#codeOf.set(text, code);
    }
    return code;
  }

  build(): TextColumn {
    return { type: 'text', dictionary: [...this.#codeOf.keys()], codes: this.codes };
  }
}
