import type { Gather } from './gather.js';

const LONGEST_LINE = 4000;

/** The lines of a text that are not empty, trimmed; those that are too long are faults. */
export function* linesOf(text: string, gather: Gather): Generator<{ readonly line: number; readonly text: string }> {
  let line = 0;
  for (const raw of text.replace(/^\uFEFF/, '').split(/\r\n|\n|\r/)) {
    line++;
    const trimmed = raw.trim();
    if (trimmed === '') continue;
    if (trimmed.length > LONGEST_LINE) gather.fault(line, 'too-long', trimmed);
    else yield { line, text: trimmed };
  }
}
