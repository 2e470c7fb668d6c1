import { gunzipSync } from 'node:zlib';
import { type CountryData, compileCountryData, readCountryFile } from '@jade-fence/core';

/** No country data set is this large; a compressed bomb would be. */
const LARGEST_FILE = 512 * 1024 * 1024;

/** Country data as it is stored, made ready for look-ups. */
export function compileCountryFile(packed: Uint8Array): CountryData {
  return compileCountryData(readCountryFile(gunzipSync(packed, { maxOutputLength: LARGEST_FILE })).networks);
}
