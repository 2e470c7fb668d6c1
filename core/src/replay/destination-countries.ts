import type { ColumnTable, TextColumn } from '../column/index.js';
import { CodedTextBuilder } from '../column/index.js';
import {
  classesOf,
  countriesOf,
  countriesText,
  countryIn,
  type Destinations,
  type SharedPartition,
} from '../engine/index.js';

/**
 * The countries of each row's destination, by the corrections and the country data; several are parted by blanks. Rows of
 * `resolving` that do not show where they go take those of their host. Undefined where nothing is known of any row.
 */
export function destinationCountries(
  table: ColumnTable,
  partition: SharedPartition['partition'],
  destinations: Destinations,
  resolving: readonly Uint32Array[],
): TextColumn | undefined {
  const { shown } = destinations;
  if (shown === undefined && resolving.length === 0) return undefined;
  const countries = new CodedTextBuilder(table.rows);
  if (shown) {
    const ofShown = Uint32Array.from(classesOf(shown, partition), (number) =>
      countries.code(partition.classes[number]?.country),
    );
    for (let row = 0; row < table.rows; row++) countries.codes[row] = ofShown[shown.codes[row] as number] as number;
  }
  if (resolving.length > 0) writeResolved(countries, destinations, partition, resolving);
  return countries.build();
}

const NOT_ASKED = -1;

function writeResolved(
  countries: CodedTextBuilder,
  destinations: Destinations,
  partition: SharedPartition['partition'],
  resolving: readonly Uint32Array[],
): void {
  const { codes } = destinations;
  const ofCode = new Int32Array(destinations.count).fill(NOT_ASKED);
  const find = (code: number): number => {
    const addresses = destinations.addresses(code);
    const found = addresses && countriesOf(addresses, (address) => countryIn(partition, address));
    return countries.code(found && countriesText(found));
  };
  for (const rows of resolving)
    for (let at = 0; at < rows.length; at++) {
      const row = rows[at] as number;
      if (countries.codes[row] !== 0) continue;
      const code = codes[row] as number;
      if (ofCode[code] === NOT_ASKED) ofCode[code] = find(code);
      countries.codes[row] = ofCode[code] as number;
    }
}
