import { stripVTControlCharacters } from 'node:util';
import Table from 'cli-table3';
import type { Paint } from './terminal.js';

export interface TableColumn {
  readonly title: string;
  readonly align?: 'left' | 'right';
}

const NO_LINES = {
  ...{
    top: '',
    'top-mid': '',
    'top-left': '',
    'top-right': '',
    bottom: '',
    'bottom-mid': '',
    'bottom-left': '',
    'bottom-right': '',
  },
  ...{ left: '', 'left-mid': '', mid: '', 'mid-mid': '', right: '', 'right-mid': '', middle: '  ' },
};

/** Rows under their titles, without lines; numbers to the right. */
export function table(columns: readonly TableColumn[], rows: readonly (readonly string[])[], paint: Paint): string {
  const made = new Table({
    chars: NO_LINES,
    style: { 'padding-left': 0, 'padding-right': 0, head: [], border: [], compact: true },
    head: columns.map(({ title }) => paint.dim(title)),
    colAligns: columns.map(({ align }) => align ?? 'left'),
  });
  made.push(...rows.map((row) => [...row]));
  return made
    .toString()
    .split('\n')
    .map((line) => line.trimEnd())
    .join('\n');
}

const BETWEEN = NO_LINES.middle.length;

/** How many columns of a terminal a table takes. */
export function widthOf(columns: readonly TableColumn[], rows: readonly (readonly string[])[]): number {
  const widths = columns.map(({ title }, at) =>
    Math.max(title.length, ...rows.map((row) => shownLength(row[at] ?? ''))),
  );
  return widths.reduce((sum, each) => sum + each + BETWEEN, -BETWEEN);
}

const shownLength = (text: string): number => stripVTControlCharacters(text).length;

const GAP = 6;

export const count = (value: number): string => value.toLocaleString('en');

/** «1 entry», «12 entries». */
export const counted = (value: number, one: string, many: string): string =>
  `${count(value)} ${value === 1 ? one : many}`;

/** A count, or a dot for zero, so that the others are easy to see. */
export const countOrDot = (value: number): string => (value === 0 ? '·' : count(value));

export function share(part: number, whole: number): string {
  return whole === 0 ? '–' : `${((part / whole) * 100).toFixed(1)} %`;
}

export function indent(text: string, by: string): string {
  return text
    .split('\n')
    .map((line) => (line === '' ? line : by + line))
    .join('\n');
}

/** Two blocks of text beside each other, or below each other where there is no room. */
export function beside(left: string, right: string, columns: number): string {
  const [rows, others] = [left.split('\n'), right.split('\n')];
  const leftWidth = Math.max(...rows.map(shownLength)) + GAP;
  if (leftWidth + Math.max(...others.map(shownLength)) > columns) return `${left}\n\n${right}`;
  return Array.from({ length: Math.max(rows.length, others.length) }, (_, at) => {
    const row = rows[at] ?? '';
    return `${row}${' '.repeat(leftWidth - shownLength(row))}${others[at] ?? ''}`.trimEnd();
  }).join('\n');
}
