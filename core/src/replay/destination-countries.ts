import type { ColumnTable, TextColumn } from '../column/index.js';
import { CodedTextBuilder } from '../column/index.js';
import { classesOf, type Prepared } from '../engine/index.js';
import { addressColumn } from '../log/index.js';

/**
 * The country of each row's destination, by the corrections and the country data. Undefined where no row of the chunk
 * shows the address of its destination.
 */
export function destinationCountries(table: ColumnTable, prepared: Prepared): TextColumn | undefined {
  const destinations = addressColumn(table, 'destination');
  if (destinations === undefined) return undefined;
  const { partition } = prepared.shared();
  const classes = classesOf(destinations, partition);
  const countries = new CodedTextBuilder(table.rows);
  const ofDestination = Uint32Array.from(classes, (number) => countries.code(partition.classes[number]?.country));
  for (let row = 0; row < table.rows; row++)
    countries.codes[row] = ofDestination[destinations.codes[row] as number] as number;
  return countries.build();
}
