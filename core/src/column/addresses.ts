import { type Address, compareWords, type Words } from '../address/index.js';
import type { AddressColumn } from './column.js';
import { WordTable } from './word-table.js';

/** The address of a code; undefined for 0, which is absent. */
export function addressOf({ four, six }: Pick<AddressColumn, 'four' | 'six'>, code: number): Address | undefined {
  if (code === 0) return undefined;
  if (code <= four.length) return { family: 4, value: four[code - 1] as number };
  const at = (code - 1 - four.length) * 4;
  const words: Words = [six[at] as number, six[at + 1] as number, six[at + 2] as number, six[at + 3] as number];
  return { family: 6, words };
}

/** How many codes a column has, 0 included. */
export const addressCodes = ({ four, six }: Pick<AddressColumn, 'four' | 'six'>): number =>
  1 + four.length + six.length / 4;

/**
 * Grows a column of addresses row by row. Rows that nothing is set for are absent. The dictionary is in the order of the
 * addresses, so that who looks them all up goes through memory in order too.
 */
export class AddressColumnBuilder {
  readonly #four = new WordTable(1);
  readonly #six = new WordTable(4);
  readonly #word = new Uint32Array(1);
  /** IPv4 from 1 up, IPv6 from -1 down, in the order in which they came. */
  readonly #codes: Int32Array;

  constructor(mostRows: number) {
    this.#codes = new Int32Array(mostRows);
  }

  set(row: number, address: Address): void {
    this.#codes[row] = this.code(address);
  }

  /** The code of an address, for `setCode` of this builder alone; 0 for none. */
  code(address: Address | undefined): number {
    if (address === undefined) return 0;
    if (address.family === 4) return this.codeOfFour(address.value);
    return -this.#six.number(Uint32Array.from(address.words)) - 1;
  }

  /** The code of an IPv4 address by its value. */
  codeOfFour(value: number): number {
    this.#word[0] = value;
    return this.#four.number(this.#word) + 1;
  }

  setCode(row: number, code: number): void {
    this.#codes[row] = code;
  }

  build(rows: number): AddressColumn {
    const came = this.#four.rows.subarray(0, this.#four.count);
    // The address and its number as one, so that they are sorted together.
    const sorted = Float64Array.from(came, (value, number) => value * NUMBERS + number).sort();
    const four = Uint32Array.from(sorted, (each) => Math.floor(each / NUMBERS));
    const placeFour = new Uint32Array(came.length + 1);
    sorted.forEach((each, place) => {
      placeFour[(each % NUMBERS) + 1] = place + 1;
    });
    const words = this.#six.rows;
    const wordsOf = (number: number) => words.subarray(number * 4, number * 4 + 4) as unknown as Words;
    const order = Array.from({ length: this.#six.count }, (_, number) => number).sort((a, b) =>
      compareWords(wordsOf(a), wordsOf(b)),
    );
    const placeSix = new Uint32Array(order.length + 1);
    order.forEach((number, place) => {
      placeSix[number + 1] = four.length + place + 1;
    });
    const six = new Uint32Array(order.length * 4);
    order.forEach((number, place) => {
      six.set(wordsOf(number), place * 4);
    });
    const codes = new Uint32Array(rows);
    for (let row = 0; row < rows; row++) {
      const code = this.#codes[row] as number;
      codes[row] = (code < 0 ? placeSix[-code] : placeFour[code]) as number;
    }
    return { type: 'address', four, six, codes };
  }
}

/** More than addresses that a column can have, so that an address and its number make one exact number. */
const NUMBERS = 2 ** 20;
