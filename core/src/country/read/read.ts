import type { CountryNetwork, CountryRowFault } from '../networks.js';
import { readCountryCsv } from './csv.js';
import { isRirStatistics, readRirStatistics } from './rir.js';

/** What a file of country data holds. */
export interface CountryFile {
  readonly format: 'csv' | 'rir-statistics';
  readonly networks: readonly CountryNetwork[];
  readonly faults: readonly CountryRowFault[];
  /** The day that the file says it is of, YYYY-MM-DD; undefined where it does not say. */
  readonly date: string | undefined;
}

/** Reads country data in the format that its first line shows. */
export function readCountryFile(text: string): CountryFile {
  if (isRirStatistics(text)) return { format: 'rir-statistics', ...readRirStatistics(text) };
  return { format: 'csv', ...readCountryCsv(text), date: undefined };
}
