import type { Gather } from './gather.js';

/** One entry of a zone file, which may go over several lines where parentheses say so. */
export interface ZoneEntry {
  /** The line in which it begins. */
  readonly line: number;
  readonly words: readonly string[];
  /** Whether it begins with a blank, and so is of the owner before. */
  readonly isIndented: boolean;
  /** The first of its lines, to be shown. */
  readonly text: string;
}

const LONGEST_ENTRY = 64 * 1024;

/**
 * Cuts a zone file into entries of words (RFC 1035, section 5.1): `;` begins a comment, quotes hold words together,
 * `\DDD` and `\X` are characters, and between parentheses the ends of lines do not count. Of an entry that is not closed
 * the first line is left out, and what follows is read by itself. Parentheses hold no others, so that each line is read
 * twice at most.
 */
export function* zoneEntries(text: string, gather: Gather): Generator<ZoneEntry> {
  const lines = text.replace(/^\uFEFF/, '').split(/\r\n|\n|\r/);
  for (let at = 0; at < lines.length; at++) {
    const first = lines[at] as string;
    const [words, line] = [[] as string[], at + 1];
    let { depth, isQuoted } = cut(first, words, 0);
    let length = first.length;
    while (depth === 1 && !isQuoted && at + 1 < lines.length && length < LONGEST_ENTRY) {
      at++;
      length += (lines[at] as string).length;
      ({ depth, isQuoted } = cut(lines[at] as string, words, depth));
    }
    if (isQuoted || depth !== 0) {
      gather.fault(line, 'unclosed', first.trim());
      at = line - 1;
    } else if (words.length > 0) yield { line, words, isIndented: /^\s/.test(first), text: first.trim() };
  }
}

/** Adds the words of a line, and answers how many parentheses are open then. */
function cut(line: string, words: string[], depth: number): { readonly depth: number; readonly isQuoted: boolean } {
  let open = depth;
  let word: string | undefined;
  let isQuoted = false;
  const end = () => {
    if (word !== undefined) words.push(word);
    word = undefined;
  };
  for (let at = 0; at < line.length; at++) {
    const character = line[at] as string;
    if (character === '\\') {
      const digits = /^\d{3}/.exec(line.slice(at + 1, at + 4))?.[0];
      word = (word ?? '') + (digits ? String.fromCharCode(Number(digits)) : (line[at + 1] ?? ''));
      at += digits ? 3 : 1;
    } else if (character === '"') {
      isQuoted = !isQuoted;
      word ??= '';
    } else if (isQuoted) word += character;
    else if (character === ';') break;
    else if (character === '(' || character === ')') {
      end();
      open += character === '(' ? 1 : -1;
    } else if (/\s/.test(character)) end();
    else word = (word ?? '') + character;
  }
  end();
  return { depth: open, isQuoted };
}
