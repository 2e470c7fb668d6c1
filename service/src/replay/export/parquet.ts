import type { JudgedBody } from '@jade-fence/contract';
import { ByteWriter, ParquetWriter, type SchemaElement } from 'hyparquet-writer';
import { EXPORT_COLUMNS, type ExportColumn } from './columns.js';

const ROWS_IN_GROUP = 65_536;

/** Requests as Apache Parquet, a group of rows at a time, so that memory stays bounded. */
export async function* parquetOf(requests: AsyncIterable<readonly JudgedBody[]>): AsyncGenerator<Uint8Array> {
  const writer = new ByteWriter();
  const parquet = new ParquetWriter({ writer, schema: SCHEMA, createdBy: 'jade-fence' });
  let waiting: JudgedBody[] = [];
  for await (const some of requests) {
    waiting.push(...some);
    if (waiting.length < ROWS_IN_GROUP) continue;
    writeGroup(parquet, waiting);
    waiting = [];
    yield drained(writer);
  }
  if (waiting.length > 0) writeGroup(parquet, waiting);
  await parquet.finish();
  yield drained(writer);
}

function writeGroup(parquet: ParquetWriter, requests: readonly JudgedBody[]): void {
  const columnData = EXPORT_COLUMNS.map((column) => ({
    name: column.name,
    data: requests.map((request) => cellOf(column, request)),
  }));
  parquet.write({ columnData, rowGroupSize: requests.length });
}

function cellOf({ type, of }: ExportColumn, request: JudgedBody): string | bigint | Date | undefined {
  const value = of(request);
  if (value === undefined) return undefined;
  switch (type) {
    case 'text':
      return String(value);
    case 'whole':
      return BigInt(value);
    case 'time':
      return new Date(value);
  }
}

const TYPES = {
  text: { type: 'BYTE_ARRAY', converted_type: 'UTF8' },
  whole: { type: 'INT64' },
  time: { type: 'INT64', converted_type: 'TIMESTAMP_MILLIS' },
} as const satisfies Record<ExportColumn['type'], Partial<SchemaElement>>;

const SCHEMA: SchemaElement[] = [
  { name: 'requests', num_children: EXPORT_COLUMNS.length },
  ...EXPORT_COLUMNS.map(({ name, type }): SchemaElement => ({ name, repetition_type: 'OPTIONAL', ...TYPES[type] })),
];

/** What was written since the last time. */
function drained(writer: ByteWriter): Uint8Array {
  const bytes = writer.getBytes().slice();
  writer.index = 0;
  return bytes;
}
