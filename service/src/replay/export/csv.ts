import type { JudgedBody } from '@jade-fence/contract';
import { stringify } from 'csv-stringify/sync';
import { EXPORT_COLUMNS } from './columns.js';

/**
 * Requests as CSV (RFC 4180) with a header. Texts that a spreadsheet would take for a formula get an apostrophe in
 * front: strangers choose the contents of logs.
 */
export async function* csvOf(requests: AsyncIterable<readonly JudgedBody[]>): AsyncGenerator<string> {
  const options = { escape_formulas: true, record_delimiter: '\r\n' } as const;
  yield stringify([EXPORT_COLUMNS.map(({ name }) => name)], options);
  for await (const some of requests)
    yield stringify(
      some.map((request) => EXPORT_COLUMNS.map((column) => column.of(request) ?? '')),
      options,
    );
}
