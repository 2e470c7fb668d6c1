import { type Address, type AddressRange, compareAddresses, formatRange } from '../address/index.js';

/** One row of country data: a network or range, and its code. */
export interface CountryNetwork {
  readonly range: AddressRange;
  readonly code: string;
  readonly line: number;
}

/** A row that could not be used, and why. `detail` is the faulty text. */
export interface CountryRowFault {
  readonly line: number;
  readonly code: 'damaged' | 'columns' | 'address' | 'range' | 'country-code' | 'conflict' | 'too-long';
  readonly detail: string;
}

const WORDING: Record<CountryRowFault['code'], (detail: string) => string> = {
  damaged: (detail) => `The file is damaged: ${detail}`,
  columns: (detail) => `This is no row of the format: ${detail}`,
  address: (detail) => `This is not an address, a network or a range: ${detail}`,
  range: (detail) => `The range ends before it starts: ${detail}`,
  'country-code': (detail) => `This is not a code of ISO 3166-1: ${detail}`,
  conflict: (detail) => `The same network has two countries, and the first one counts: ${detail}`,
  'too-long': (detail) => `The row is longer than 1,000 characters: ${detail}`,
};

/** Why a row was left out, as half a sentence without its full stop. */
export const countryRowFaultText = (fault: CountryRowFault): string => WORDING[fault.code](fault.detail);

/**
 * Skips rows that give a network a second time with another country; the first one counts.
 * Networks that lie inside others are not conflicts: the narrower one wins.
 */
export function withoutConflicts(rows: readonly CountryNetwork[]): {
  networks: CountryNetwork[];
  faults: CountryRowFault[];
} {
  const sorted = [...rows].sort(
    (a, b) =>
      compareAddresses(a.range.first, b.range.first) || compareAddresses(a.range.last, b.range.last) || a.line - b.line,
  );
  const networks: CountryNetwork[] = [];
  const faults: CountryRowFault[] = [];
  for (const row of sorted) {
    const before = networks.at(-1);
    if (before === undefined || !sameRange(before.range, row.range)) networks.push(row);
    else if (before.code !== row.code)
      faults.push({
        line: row.line,
        code: 'conflict',
        detail: `${formatRange(row.range)} is ${before.code} in line ${before.line} and ${row.code} here`,
      });
  }
  return { networks, faults };
}

function sameRange(a: AddressRange, b: AddressRange): boolean {
  return same(a.first, b.first) && same(a.last, b.last);
}

const same = (a: Address, b: Address): boolean => compareAddresses(a, b) === 0;
