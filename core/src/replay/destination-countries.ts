import type { ColumnTable, TextColumn } from '../column/index.js';
import { addressCodes, CodedTextBuilder } from '../column/index.js';
import {
  classesOf,
  countriesOf,
  countriesText,
  countryIn,
  type Destinations,
  NOT_KNOWN,
  SEVERAL,
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
    const classes = resolving.length > 0 ? destinations.classes(partition) : classesOf(shown, partition);
    const ofShown = Uint32Array.from(classes.subarray(0, addressCodes(shown)), (number) =>
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
  const classes = destinations.classes(partition);
  const ofClass = new Int32Array(partition.classes.length).fill(NOT_ASKED);
  const ofSeveral = new Map<number, number>();
  const findSeveral = (code: number): number => {
    const addresses = destinations.addresses(code) ?? [];
    const found = countriesOf(addresses, (address) => countryIn(partition, address));
    return countries.code(found && countriesText(found));
  };
  for (const rows of resolving)
    for (let at = 0; at < rows.length; at++) {
      const row = rows[at] as number;
      const code = codes[row] as number;
      const number = classes[code] as number;
      if (countries.codes[row] !== 0 || number === NOT_KNOWN) continue;
      if (number === SEVERAL) {
        const known = ofSeveral.get(code) ?? findSeveral(code);
        ofSeveral.set(code, known);
        countries.codes[row] = known;
        continue;
      }
      if (ofClass[number] === NOT_ASKED) ofClass[number] = countries.code(partition.classes[number]?.country);
      countries.codes[row] = ofClass[number] as number;
    }
}
