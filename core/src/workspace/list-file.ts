import { linesOf, reportIssue } from '../issue/index.js';
import { FIRST_LINE, type List, type ListSort, listFromLines } from '../list/index.js';
import { type ReadFiles, readFiles } from './read.js';

/** A line of a file of entries that does not hold. */
export interface LineFault {
  /** From 1. */
  readonly line: number;
  readonly what: string;
}

/** A list that was read from a file of entries. */
export interface ListFile {
  /** The document with the entries that hold. */
  readonly text: string;
  readonly faults: readonly LineFault[];
  /** The document; undefined when none of it is valid. */
  readonly read: ReadFiles;
  readonly list: List | undefined;
}

/** Reads a file with one entry a line, and a note behind a `#`, as a list. Skips invalid lines and reports them. */
export function readListFile(name: string, of: ListSort, lines: string): ListFile {
  const whole = listFromLines(name, of, lines);
  const read = readFiles([{ name: `list ${name}`, text: whole.text }]);
  const { issues } = read;
  if (issues.length === 0) return { text: whole.text, faults: [], read, list: listOf(read) };
  const text = linesOf(whole.text);
  const faults = new Map<number, string>();
  for (const issue of issues) {
    const { line, what } = reportIssue(issue, text);
    const own = whole.lineOf[line - 1 - FIRST_LINE] ?? 0;
    if (!faults.has(own)) faults.set(own, what);
  }
  const kept = lines.split('\n').map((line, at) => (faults.has(at + 1) ? '' : line));
  const left = listFromLines(name, of, kept.join('\n')).text;
  const readLeft = readFiles([{ name: `list ${name}`, text: left }]);
  return {
    text: left,
    faults: [...faults].map(([line, what]) => ({ line, what })),
    read: readLeft,
    list: listOf(readLeft),
  };
}

function listOf({ objects }: ReadFiles): List | undefined {
  const object = objects[0]?.object;
  return object?.type === 'list' ? object : undefined;
}
