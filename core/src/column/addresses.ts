import { type Address, compareWords, type Words } from '../address/index.js';
import type { AddressColumn } from './column.js';

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
  readonly #four = new Map<number, number>();
  readonly #six = new Map<string, number>();
  readonly #sixWords: Words[] = [];
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
    if (address.family === 4) {
      const known = this.#four.get(address.value) ?? this.#four.size + 1;
      this.#four.set(address.value, known);
      return known;
    }
    const key = address.words.join();
    let known = this.#six.get(key);
    if (known === undefined) {
      known = -this.#six.size - 1;
      this.#six.set(key, known);
      this.#sixWords.push(address.words);
    }
    return known;
  }

  setCode(row: number, code: number): void {
    this.#codes[row] = code;
  }

  build(rows: number): AddressColumn {
    const four = Uint32Array.from(this.#four.keys()).sort();
    const placeFour = new Uint32Array(four.length + 1);
    four.forEach((value, at) => {
      placeFour[this.#four.get(value) as number] = at + 1;
    });
    const order = this.#sixWords
      .map((_, at) => at)
      .sort((a, b) => compareWords(this.#sixWords[a] as Words, this.#sixWords[b] as Words));
    const placeSix = new Uint32Array(order.length + 1);
    order.forEach((at, place) => {
      placeSix[at + 1] = four.length + place + 1;
    });
    const six = Uint32Array.from(order.flatMap((at) => this.#sixWords[at] as Words));
    const codes = Uint32Array.from(
      this.#codes.subarray(0, rows),
      (code) => (code < 0 ? placeSix[-code] : placeFour[code]) as number,
    );
    return { type: 'address', four, six, codes };
  }
}
