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
    return { type: 'text', dictionary: [...this.#codeOf.keys()], codes: this.#codes.slice(0, rows) };
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

  /** Sets rows by numbers that each stand for a text; each number that comes up is asked about once. */
  setCoded(rows: Uint32Array, numbers: Int32Array, textOf: (number: number) => string | undefined): void {
    // Numbers from -1 on, which stands for none.
    const codeOf = new Int32Array(highest(numbers) + 2).fill(-1);
    const { codes } = this;
    const all = rows.length === codes.length;
    for (let at = 0; at < rows.length; at++) {
      const number = numbers[at] as number;
      let code = codeOf[number + 1] as number;
      if (code < 0) {
        code = this.code(textOf(number));
        codeOf[number + 1] = code;
      }
      codes[all ? at : (rows[at] as number)] = code;
    }
  }

  build(): TextColumn {
    return { type: 'text', dictionary: [...this.#codeOf.keys()], codes: this.codes };
  }
}

function highest(numbers: Int32Array): number {
  let most = -1;
  for (let at = 0; at < numbers.length; at++) if ((numbers[at] as number) > most) most = numbers[at] as number;
  return most;
}
