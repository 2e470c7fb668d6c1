import type { AddressColumn, AddressDictionary, Codes, ColumnTable } from '../../../column/index.js';
import { addressCodes, gathered } from '../../../column/index.js';
import { addressColumn } from '../../../log/index.js';
import { classesOfFour, classesOfSix, type Partition } from '../partition/partition.js';

/** Addresses of rows, by codes: each distinct one is looked at once. */
export interface Addresses {
  readonly codes: Codes;
  readonly dictionary: AddressDictionary;
}

export interface Clients extends Addresses {
  /** The class of each code in the partition that policies share; `UNSEEN_CLIENT` where the client is not known. */
  readonly classes: Int32Array;
}

export const UNSEEN_CLIENT = -1;

/** This many clients, none of them known. */
export const noClients = (rows: number): Clients => ({
  codes: new Uint32Array(rows),
  dictionary: { four: new Uint32Array(0), six: new Uint32Array(0) },
  classes: Int32Array.of(UNSEEN_CLIENT),
});

/** The classes of all codes of addresses in a partition; fastest where the dictionary is in order. */
export function classesOf(dictionary: AddressDictionary, partition: Partition): Int32Array {
  const classes = new Int32Array(addressCodes(dictionary)).fill(UNSEEN_CLIENT);
  const { four, six } = dictionary;
  classesOfFour(partition, four, classes, 1);
  classesOfSix(partition, six, classes, four.length + 1);
  return classes;
}

/** The addresses of a chunk's column; where it has none, they are absent of every row. */
export function wholeColumn(table: ColumnTable, name: string): AddressColumn {
  const none = new Uint32Array(0);
  return addressColumn(table, name) ?? { type: 'address', four: none, six: none, codes: new Uint32Array(table.rows) };
}

/** The addresses of a column in the rows. */
export function addressesIn(table: ColumnTable, name: string, rows: Uint32Array): Addresses {
  const column = wholeColumn(table, name);
  return { codes: gathered(column.codes, rows), dictionary: column };
}
