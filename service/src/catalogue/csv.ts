import { CATALOGUE_COLUMNS, type CatalogueKind, type CatalogueRow } from '@jade-fence/core/catalogue';
import { CsvError, parse } from 'csv-parse/sync';
import { stringify } from 'csv-stringify/sync';
import { refusal } from '../fault/refusal.js';

/** Rows of a catalogue as CSV (RFC 4180) with a header. */
export const catalogueCsv = (kind: CatalogueKind, rows: readonly CatalogueRow[]): string =>
  stringify([...rows], { header: true, columns: [...CATALOGUE_COLUMNS[kind]], record_delimiter: '\r\n' });

/** Reads such a file. Columns may be in any order; unknown ones are refused. */
export function readCatalogueCsv(kind: CatalogueKind, source: string, text: string): CatalogueRow[] {
  const columns: readonly string[] = CATALOGUE_COLUMNS[kind];
  const refuse = (detail: string): never => {
    throw refusal('bad-catalogue', { source, detail, columns: columns.join(', ') });
  };
  try {
    const rows: Record<string, string>[] = parse(text, {
      columns: true,
      bom: true,
      skip_empty_lines: true,
      trim: true,
    });
    const named = Object.keys(rows[0] ?? {});
    const unknown = named.filter((column) => !columns.includes(column));
    if (unknown.length > 0) return refuse(`There is no column ${unknown.join(', ')}.`);
    const needed = kind === 'category' ? ['category', 'entry'] : ['application', 'when'];
    const missing = rows.findIndex((row) => needed.some((column) => !row[column]));
    if (missing >= 0) return refuse(`Row ${missing + 1} has no ${needed.join(' or no ')}.`);
    return rows.map((row) => Object.fromEntries(Object.entries(row).filter(([, value]) => value !== '')));
  } catch (error) {
    if (error instanceof CsvError) return refuse(`${error.message}.`);
    throw error;
  }
}
