import type { MappingPreviewBody } from '@jade-fence/contract';
import { safe } from './safe.js';
import { counted, table } from './table.js';
import type { Paint } from './terminal.js';

/** What each of the first lines is read as, field by field, and what is not read. */
export function formatPreview({ format, lines, ignored, missing }: MappingPreviewBody, paint: Paint): string {
  const rows = lines.flatMap(({ line, request, reasons }) => [
    ...Object.entries(request ?? {}).map(([field, value], at) => [
      at === 0 ? String(line) : '',
      field,
      safe(shown(value)),
    ]),
    ...reasons.map((reason, at) => [request === null && at === 0 ? String(line) : '', paint.yellow('!'), safe(reason)]),
  ]);
  const columns = [{ title: 'line', align: 'right' as const }, { title: 'field' }, { title: 'read as' }];
  const read = lines.filter(({ request }) => request !== null).length;
  return [
    table(columns, rows, paint),
    `Read ${read} of the first ${counted(lines.length, 'line', 'lines')} as ${format}.`,
    ...(read === 0 ? ['Say where its fields are with --pattern for text, or --column for JSON and CSV.'] : []),
    ...(missing.length > 0
      ? [`${paint.yellow('!')} No line has anything at the place of ${missing.map(safe).join(', ')}.`]
      : []),
    ...(ignored.length > 0
      ? [`${paint.yellow('!')} Ignored names that requests do not have: ${ignored.map(safe).join(', ')}.`]
      : []),
  ].join('\n');
}

const shown = (value: unknown): string => (typeof value === 'object' ? JSON.stringify(value) : String(value));
