import type { LineResult } from '../line.js';
import { fieldsOfColumns } from './columns.js';
import { readCombinedLine } from './combined.js';
import { delimiterOf, partRecord } from './csv.js';
import { readJsonLine } from './json-lines.js';
import { hasPlaces, type Mapping, NO_MAPPING } from './mapping.js';

/** The common and the combined log format are one to us: the combined has two fields more. */
export const LOG_FORMATS = ['json-lines', 'combined', 'w3c', 'csv', 'har', 'text'] as const;
export type LogFormat = (typeof LOG_FORMATS)[number];

/** The names of formats, for people. */
export const FORMAT_NAMES: Readonly<Record<LogFormat, string>> = {
  'json-lines': 'JSON Lines',
  combined: 'the common or combined log format',
  w3c: 'the W3C Extended Log File Format',
  csv: 'CSV',
  har: 'HAR',
  text: 'text by a pattern',
};

/** A table counts as a log when this many columns of its header are known. */
const FEWEST_COLUMNS = 2;

/** The format of a log, by what the caller said and by what its start looks like. */
export function settledFormat(given: LogFormat | undefined, mapping: Mapping, start: () => LogFormat): LogFormat {
  if (given !== undefined) return given;
  if (mapping.pattern !== undefined) return 'text';
  // Places are of columns or of JSON; a table may have names that nothing but the mapping knows.
  if (hasPlaces(mapping)) return start() === 'json-lines' ? 'json-lines' : 'csv';
  return start();
}

/** The format of a text, by how it starts: what most of its lines can be read in. JSON Lines where nothing fits. */
export function detectFormat(text: string): LogFormat {
  const start = text.replace(/^\uFEFF/, '');
  if (/^\s*\{\s*"log"\s*:\s*\{/.test(start)) return 'har';
  const lines = start.split(/\r?\n/).filter((line) => line.trim() !== '');
  if (lines.some((line) => /^#(?:Version|Fields|Software|Date):/i.test(line))) return 'w3c';
  const braces = lines.filter((line) => line.trimStart().startsWith('{')).length;
  if (braces > lines.length / 2) return 'json-lines';
  const readable = (read: (line: string) => LineResult) => lines.filter((line) => 'request' in read(line)).length;
  const combined = readable(readCombinedLine);
  if (combined === 0 && isHeader(lines[0] ?? '')) return 'csv';
  return combined > readable((line) => readJsonLine(line, new Map())) || braces === 0 ? 'combined' : 'json-lines';
}

function isHeader(line: string): boolean {
  const delimiter = delimiterOf(line);
  const names = delimiter === undefined ? undefined : partRecord(line, delimiter);
  if (names === undefined) return false;
  return fieldsOfColumns(names, NO_MAPPING).filter((field) => field !== undefined).length >= FEWEST_COLUMNS;
}
