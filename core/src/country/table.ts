import { type Address, compareWordsAt, type Intervals, searchFour, searchSix } from '../address/index.js';

/**
 * Intervals with their codes, laid out for look-ups: the start, the end and the code of an interval lie side by side,
 * so that a look-up ends with one walk to memory instead of three. Plain data.
 */
export interface CountryTable {
  /** Of each interval the words of its start and end, one of IPv4 and four of IPv6, and the number of its code. */
  readonly records: Uint32Array;
  readonly intervals: Intervals;
}

/** Words a record, by the family. */
const RECORD = { 4: 3, 6: 9 } as const;

/** `codes` has a number for each interval. */
export function countryTable(intervals: Intervals, codes: Uint16Array): CountryTable {
  const width = intervals.family === 4 ? 1 : 4;
  const { starts, ends, count } = intervals;
  const records = new Uint32Array(count * RECORD[intervals.family]);
  for (let index = 0, at = 0; index < count; index++) {
    for (let word = 0; word < width; word++) records[at++] = starts[index * width + word] as number;
    for (let word = 0; word < width; word++) records[at++] = ends[index * width + word] as number;
    records[at++] = codes[index] as number;
  }
  return { records, intervals };
}

/** The index of the interval that holds the address, which must be of the table's family; -1 for none. */
export function findInTable(table: CountryTable, address: Address): number {
  return address.family === 4
    ? findFour(table, address.value)
    : findSix(table, address.words[0], address.words[1], address.words[2], address.words[3]);
}

/** The number of the code of the interval at the index. */
export function codeInTable({ records, intervals }: CountryTable, index: number): number {
  return records[(index + 1) * RECORD[intervals.family] - 1] as number;
}

function findFour({ records, intervals }: CountryTable, value: number): number {
  const { directory, count } = intervals;
  const at = searchFour(records, RECORD[4], directory, count, value);
  return at >= 0 && value <= (records[at * RECORD[4] + 1] as number) ? at : -1;
}

function findSix({ records, intervals }: CountryTable, a: number, b: number, c: number, d: number): number {
  const { directory, count } = intervals;
  const at = searchSix(records, RECORD[6], directory, count, a, b, c, d);
  return at >= 0 && compareWordsAt(records, at * RECORD[6] + 4, a, b, c, d) >= 0 ? at : -1;
}
