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

/** Tells an issue found in a file's text. */
export function reportIssue(issue: Issue, text: string): IssueReport {
  const start = Math.min(issue.span.start, text.length);
  const lineStart = text.lastIndexOf('\n', start - 1) + 1;
  const newline = text.indexOf('\n', start);
  const lineEnd = newline < 0 ? text.length : newline;
  const column = start - lineStart + 1;
  return {
    code: issue.code,
    file: issue.file,
    line: countLines(text, lineStart),
    column,
    length: Math.max(1, Math.min(issue.span.end, lineEnd) - start),
    path: formatPath(issue.path),
    ...wordingOf(issue),
    excerpt: text.slice(lineStart, Math.min(lineEnd, lineStart + LONGEST_EXCERPT)).trimEnd(),
  };
}

function countLines(text: string, end: number): number {
  let lines = 1;
  for (let at = text.indexOf('\n'); at >= 0 && at < end; at = text.indexOf('\n', at + 1)) lines++;
  return lines;
}

export function formatPath(path: Issue['path']): string {
  return path
    .map((step) => (typeof step === 'number' ? `[${step}]` : `.${step}`))
    .join('')
    .replace(/^\./, '');
}
