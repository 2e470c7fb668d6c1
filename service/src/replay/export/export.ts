import type { ExportForm, JudgedBody } from '@jade-fence/contract';
import { csvOf } from './csv.js';
import { jsonLinesOf } from './json-lines.js';
import { parquetOf } from './parquet.js';

export const EXPORT_TYPES: Readonly<Record<ExportForm, string>> = {
  jsonl: 'application/jsonl',
  csv: 'text/csv; charset=utf-8; header=present',
  parquet: 'application/vnd.apache.parquet',
};

/** Requests in a form that goes out. */
export function exported(
  form: ExportForm,
  requests: AsyncIterable<readonly JudgedBody[]>,
): AsyncGenerator<string | Uint8Array> {
  switch (form) {
    case 'jsonl':
      return jsonLinesOf(requests);
    case 'csv':
      return csvOf(requests);
    case 'parquet':
      return parquetOf(requests);
  }
}
