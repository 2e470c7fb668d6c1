import type { Issue } from './issue.js';
import { wordingOf } from './wording.js';

/** An issue as it is shown and sent: with its line and column, both from 1, its wording and the line itself. */
export interface IssueReport {
  readonly code: string;
  readonly file: string;
  readonly line: number;
  readonly column: number;
  /** How many characters the faulty text takes up in its line; at least 1. */
  readonly length: number;
  /** The path in the document, such as `rules[2].when.country`. */
  readonly path: string;
  readonly what: string;
  readonly remedy: string;
  /** The line of the file. Cut at 200 characters. */
  readonly excerpt: string;
}

const LONGEST_EXCERPT = 200;

/** A text, and where its lines start, to find the line of an offset fast. */
export interface Lines {
  readonly text: string;
  /** The offset of each line's start; found when it is first needed. */
  readonly starts: () => readonly number[];
}

/** The lines of a text, whose starts are looked for when they are first needed. */
export function linesOf(text: string): Lines {
  let starts: number[] | undefined;
  return {
    text,
    starts: () => {
      starts ??= [0, ...Array.from(text.matchAll(/\n/g), (found) => found.index + 1)];
      return starts;
    },
  };
}

/** Tells an issue found in the lines of a file. */
export function reportIssue(issue: Issue, lines: Lines): IssueReport {
  const { text } = lines;
  const start = Math.min(issue.span.start, text.length);
  const index = lineAt(lines.starts(), start);
  const lineStart = lines.starts()[index] as number;
  const newline = text.indexOf('\n', start);
  const lineEnd = newline < 0 ? text.length : newline;
  return {
    code: issue.code,
    file: issue.file,
    line: index + 1,
    column: start - lineStart + 1,
    length: Math.max(1, Math.min(issue.span.end, lineEnd) - start),
    path: formatPath(issue.path),
    ...wordingOf(issue),
    excerpt: text.slice(lineStart, Math.min(lineEnd, lineStart + LONGEST_EXCERPT)).trimEnd(),
  };
}

/** The index of the last line that starts at or before the offset. */
function lineAt(starts: readonly number[], offset: number): number {
  let [low, high] = [0, starts.length - 1];
  while (low < high) {
    const middle = (low + high + 1) >>> 1;
    if ((starts[middle] as number) <= offset) low = middle;
    else high = middle - 1;
  }
  return low;
}

/** A place in a document as issues show it: `rules[2].when.host`. */
export function formatPath(path: Issue['path']): string {
  return path
    .map((step) => (typeof step === 'number' ? `[${step}]` : `.${step}`))
    .join('')
    .replace(/^\./, '');
}
