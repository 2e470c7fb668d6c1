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
    const codes = this.#codes.subarray(0, rows);
    const size = this.#codeOf.size;
    const narrow = size < 0x100 ? Uint8Array.from(codes) : size < 0x10000 ? Uint16Array.from(codes) : codes.slice();
    return { type: 'text', dictionary: [...this.#codeOf.keys()], codes: narrow };
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
