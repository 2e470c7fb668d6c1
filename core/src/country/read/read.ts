import type { CountryNetwork, CountryRowFault } from '../networks.js';
import { readCountryCsv } from './csv.js';
import { isMmdb, readMmdb } from './mmdb.js';
import { isRirStatistics, readRirStatistics } from './rir.js';

/** The contents of a file of country data. */
export interface CountryFile {
  readonly format: 'csv' | 'rir-statistics' | 'mmdb';
  readonly networks: readonly CountryNetwork[];
  readonly faults: readonly CountryRowFault[];
  /** The day that the file says it is of, YYYY-MM-DD; undefined where it does not say. */
  readonly date: string | undefined;
}

/** Reads country data in the format that the file itself shows. Texts are UTF-8. */
export function readCountryFile(file: Uint8Array): CountryFile {
  if (isMmdb(file)) return { format: 'mmdb', ...readMmdb(file) };
  const text = new TextDecoder('utf-8', { ignoreBOM: true }).decode(file);
  if (isRirStatistics(text)) return { format: 'rir-statistics', ...readRirStatistics(text) };
  return { format: 'csv', ...readCountryCsv(text), date: undefined };
}
