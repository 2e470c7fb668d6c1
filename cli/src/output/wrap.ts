import { stripVTControlCharacters } from 'node:util';
import wrapAnsi from 'wrap-ansi';

/** Narrower than this, text is left for the terminal to break. */
const LEAST_COLUMNS = 40;

/**
 * Breaks long lines of prose at blanks, by the width that they take on a screen; what comes behind a break is indented as
 * far as the text of the line, its mark left out. Lines that are laid out in columns stay, since a break would make
 * them unreadable.
 */
export function wrapLines(text: string, columns: number): string {
  if (columns < LEAST_COLUMNS) return text;
  return text
    .split('\n')
    .map((line) => wrapLine(line, columns))
    .join('\n');
}

/** Spaces in front, and a mark such as «→ » or «- ». */
const START = /^(\s*(?:[→!✗✓·+~-] )?)/u;

function wrapLine(line: string, columns: number): string {
  const plain = stripVTControlCharacters(line);
  // No letter takes more than two columns.
  if (plain.length * 2 <= columns) return line;
  const start = START.exec(plain)?.[0] ?? '';
  if (/\S {2,}\S/.test(plain.slice(start.length))) return line;
  const hang = ' '.repeat(start.length);
  // What stands in front is put back, so that the rest alone is broken.
  const at = lengthOfStart(line, start.length);
  const rest = wrapAnsi(line.slice(at), columns - start.length, { hard: false, trim: true });
  return line.slice(0, at) + rest.split('\n').join(`\n${hang}`);
}

/** The length of the start of a line with its control characters, where it shows so many others. */
function lengthOfStart(line: string, shown: number): number {
  let at = 0;
  while (at < line.length && stripVTControlCharacters(line.slice(0, at)).length < shown) at++;
  return at;
}
