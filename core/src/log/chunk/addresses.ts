import { parseAddress } from '../../address/index.js';
import { type AddressColumn, AddressColumnBuilder, type ColumnTable } from '../../column/index.js';

/** The addresses of a chunk's column; undefined where it has none. Chunks of the first layout hold them as texts. */
export function addressColumn({ columns, rows }: ColumnTable, name: string): AddressColumn | undefined {
  const column = columns.get(name);
  if (column?.type === 'address') return column;
  if (column?.type !== 'text') return undefined;
  const builder = new AddressColumnBuilder(rows);
  const codes = column.dictionary.map((text) => builder.code(parseAddress(text)));
  for (let row = 0; row < rows; row++) builder.setCode(row, codes[(column.codes[row] as number) - 1] ?? 0);
  return builder.build(rows);
}
