import type { Address, Words } from '../address/index.js';
import type { AddressColumn, AddressDictionary } from './column.js';
import { joinAddresses } from './joined-addresses.js';
import { WordTable } from './word-table.js';

/** The address of a code; undefined for 0, which is absent. */
export function addressOf({ four, six }: AddressDictionary, code: number): Address | undefined {
  if (code === 0) return undefined;
  if (code <= four.length) return { family: 4, value: four[code - 1] as number };
  const at = (code - 1 - four.length) * 4;
  const words: Words = [six[at] as number, six[at + 1] as number, six[at + 2] as number, six[at + 3] as number];
  return { family: 6, words };
}

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
    const four = this.#four.rows.subarray(0, this.#four.count);
    const six = this.#six.rows.subarray(0, this.#six.count * 4);
    const codes = new Uint32Array(rows);
    for (let row = 0; row < rows; row++) {
      const code = this.#codes[row] as number;
      codes[row] = code < 0 ? four.length - code : code;
    }
    return joinAddresses([{ four, six }], codes);
  }
}
