import type { NumberColumn, TextColumn } from './column.js';

/** Grows a dictionary-encoded column row by row. Rows that nothing is set for are absent. */
export class TextColumnBuilder {
  readonly #codeOf = new Map<string, number>();
  readonly #codes: Uint32Array;

  constructor(mostRows: number) {
    this.#codes = new Uint32Array(mostRows);
  }

  set(row: number, text: string): void {
    let code = this.#codeOf.get(text);
    if (code === undefined) {
      code = this.#codeOf.size + 1;
      this.#codeOf.set(text, code);
    }
    this.#codes[row] = code;
  }

  build(rows: number): TextColumn {
    return textColumnOf([...this.#codeOf.keys()], this.#codes.subarray(0, rows));
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
    return textColumnOf([...this.#codeOf.keys()], this.codes);
  }
}

/** A text column with its codes as narrow as its dictionary allows. */
function textColumnOf(dictionary: readonly string[], codes: Uint32Array): TextColumn {
  const size = dictionary.length;
  const narrow = size < 0x100 ? Uint8Array.from(codes) : size < 0x10000 ? Uint16Array.from(codes) : codes.slice();
  return { type: 'text', dictionary, codes: narrow };
}
