import { stripVTControlCharacters } from 'node:util';
import wrapAnsi from 'wrap-ansi';

/** Narrower than this, text is left for the terminal to break. */
const LEAST_COLUMNS = 40;

/** Less room than this beside what stands in front is not worth a break. */
const LEAST_ROOM = 24;

/**
 * Breaks long lines at blanks, by the width that they take on a screen. What comes behind a break is indented as far as
 * the text of the line, its mark left out; of a line in columns, as far as the last of them, which alone is broken.
 */
export function wrapLines(text: string, columns: number): string {
  if (columns < LEAST_COLUMNS) return text;
  return text
    .split('\n')
    .map((line) => wrapLine(line, columns))
    .join('\n');
}

/** Spaces in front, and a mark such as «→ » or «- ». */
const MARK = /^\s*(?:[→!✗✓·+~-] )?/u;
/** All in front of the last column, where there are several. */
const COLUMNS = /^.*\S {2,}(?=\S)/u;

function wrapLine(line: string, columns: number): string {
  const plain = stripVTControlCharacters(line);
  // No letter takes more than two columns.
  if (plain.length * 2 <= columns) return line;
  const start = (COLUMNS.exec(plain) ?? MARK.exec(plain))?.[0].length ?? 0;
  if (columns - start < LEAST_ROOM) return line;
  const at = lengthOfStart(line, start);
  const rest = wrapAnsi(line.slice(at), columns - start, { hard: false, trim: true });
  return line.slice(0, at) + rest.split('\n').join(`\n${' '.repeat(start)}`);
}

/** The length of the start of a line with its control characters, where it shows so many others. */
function lengthOfStart(line: string, shown: number): number {
  let at = 0;
  while (at < line.length && stripVTControlCharacters(line.slice(0, at)).length < shown) at++;
  return at;
}
