import { compareWords, type Words } from '../address/index.js';
import type { AddressColumn, AddressDictionary } from './column.js';

/** How many codes a dictionary of addresses has, 0 included. */
export const addressCodes = ({ four, six }: AddressDictionary): number => 1 + four.length + six.length / 4;

/** Where the codes of each dictionary begin, where they are counted on behind each other: code n is offset + n there. */
export function codeOffsets(dictionaries: readonly AddressDictionary[]): number[] {
  let offset = 0;
  return dictionaries.map((each) => {
    const own = offset;
    offset += addressCodes(each) - 1;
    return own;
  });
}

/** Several dictionaries as one, and for each code, counted on behind each other, the code there; 0 is absent. */
export interface JoinedDictionary extends AddressDictionary {
  readonly codes: Uint32Array;
}

/**
 * One dictionary of all addresses in several, each once and in order. Given marks by code, counted on behind each
 * other, it is of those marked with 1 only; it takes the marks over.
 */
export function joinDictionaries(dictionaries: readonly AddressDictionary[], marked?: Uint32Array): JoinedDictionary {
  const codes =
    marked ?? new Uint32Array(1 + dictionaries.reduce((sum, each) => sum + addressCodes(each) - 1, 0)).fill(1);
  codes[0] = 0;
  const four = placeFour(dictionaries, codes);
  const six = placeSix(dictionaries, codes, four.length);
  return { four, six, codes };
}

/**
 * One column of the addresses that rows take from several dictionaries, by codes counted on behind each other; 0 is
 * absent. Its dictionary has the addresses that some row has, each once, in order. It takes `codes` over.
 */
export function joinAddresses(dictionaries: readonly AddressDictionary[], codes: Uint32Array): AddressColumn {
  const marked = new Uint32Array(1 + dictionaries.reduce((sum, each) => sum + addressCodes(each) - 1, 0));
  for (let row = 0; row < codes.length; row++) marked[codes[row] as number] = 1;
  const { four, six, codes: places } = joinDictionaries(dictionaries, marked);
  for (let row = 0; row < codes.length; row++) codes[row] = places[codes[row] as number] as number;
  return { type: 'address', four, six, codes };
}

/** Puts IPv4 addresses of codes that are marked in order, and writes their places in that for the marks. */
function placeFour(dictionaries: readonly AddressDictionary[], places: Uint32Array): Uint32Array {
  const most = dictionaries.reduce((sum, { four }) => sum + four.length, 0);
  const found = new Uint32Array(most);
  const codeOf = new Uint32Array(most);
  let count = 0;
  let code = 1;
  for (const { four, six } of dictionaries) {
    for (let at = 0; at < four.length; at++, code++) {
      if (places[code] === 0) continue;
      codeOf[count] = code;
      found[count++] = four[at] as number;
    }
    code += six.length / 4;
  }
  const { values, codes } = sortedByValue(found.subarray(0, count), codeOf.subarray(0, count));
  const distinct = new Uint32Array(count);
  let place = 0;
  for (let at = 0; at < count; at++) {
    const value = values[at] as number;
    if (place === 0 || value !== distinct[place - 1]) distinct[place++] = value;
    places[codes[at] as number] = place;
  }
  return distinct.slice(0, place);
}

const DIGITS = [0, 8, 16, 24];

/** Sorts values with the codes beside them, a byte at a time, the lowest first (radix sort). May take both arrays over. */
function sortedByValue(values: Uint32Array, codes: Uint32Array): Sorted {
  let from: Sorted = { values, codes };
  let to: Sorted = { values: new Uint32Array(values.length), codes: new Uint32Array(values.length) };
  for (const shift of DIGITS) {
    sortByDigit(from, to, shift);
    const spare = from;
    from = to;
    to = spare;
  }
  return from;
}

interface Sorted {
  readonly values: Uint32Array;
  readonly codes: Uint32Array;
}

/** Writes what is in `from` to `to` in the order of the byte at `shift`; what has the same keeps its order. */
function sortByDigit(from: Sorted, to: Sorted, shift: number): void {
  const { values, codes } = from;
  const starts = new Uint32Array(257);
  for (let at = 0; at < values.length; at++) {
    const behind = (((values[at] as number) >>> shift) & 255) + 1;
    starts[behind] = (starts[behind] as number) + 1;
  }
  for (let digit = 1; digit < starts.length; digit++)
    starts[digit] = (starts[digit] as number) + (starts[digit - 1] as number);
  for (let at = 0; at < values.length; at++) {
    const value = values[at] as number;
    const digit = (value >>> shift) & 255;
    const place = starts[digit] as number;
    starts[digit] = place + 1;
    to.values[place] = value;
    to.codes[place] = codes[at] as number;
  }
}

/** The same for IPv6, which comes behind IPv4. */
function placeSix(dictionaries: readonly AddressDictionary[], places: Uint32Array, before: number): Uint32Array {
  const found: { readonly code: number; readonly words: Words }[] = [];
  let code = 1;
  for (const { four, six } of dictionaries) {
    code += four.length;
    for (let at = 0; at < six.length; at += 4, code++)
      if (places[code] !== 0) found.push({ code, words: six.subarray(at, at + 4) as unknown as Words });
  }
  found.sort((a, b) => compareWords(a.words, b.words));
  const distinct = new Uint32Array(found.length * 4);
  let place = 0;
  for (const [at, each] of found.entries()) {
    const before6 = found[at - 1];
    if (before6 === undefined || compareWords(before6.words, each.words) !== 0) distinct.set(each.words, place++ * 4);
    places[each.code] = before + place;
  }
  return distinct.slice(0, place * 4);
}
