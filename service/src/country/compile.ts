import { gunzipSync } from 'node:zlib';
import { countryRowFaultText, type FlatCountryData, flatCountryData, readCountryFile } from '@jade-fence/core/country';

/** No country data set is this large; a compressed bomb would be. */
const LARGEST_FILE = 512 * 1024 * 1024;
/** This many faulty rows are kept to be shown; all of them are counted. */
const MOST_FAULTS = 1000;

/** What is in a file of country data. */
export interface CountryFileLook {
  readonly networks: number;
  readonly faults: readonly { readonly line: number; readonly code: string; readonly reason: string }[];
  readonly faultCount: number;
  /** The day that the file has; undefined for none. */
  readonly date: string | undefined;
}

/** Country data as it is stored, ready to be laid out. Takes seconds for a million networks. */
export function flatCountryFile(packed: Uint8Array): FlatCountryData {
  return flatCountryData(readCountryFile(gunzipSync(packed, { maxOutputLength: LARGEST_FILE })).networks);
}

/** Reads a file of country data to report its contents. Takes seconds for a million networks. */
export function lookAtCountryFile(file: Uint8Array): CountryFileLook {
  const { networks, faults, date } = readCountryFile(file);
  const shown = faults
    .slice(0, MOST_FAULTS)
    .map((fault) => ({ line: fault.line, code: fault.code, reason: countryRowFaultText(fault) }));
  return { networks: networks.length, faults: shown, faultCount: faults.length, date };
}
