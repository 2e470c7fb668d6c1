import type { ListSort } from './list.js';

/** A line of a file of entries: the entry, and behind a `#` a note. */
const LINE = /^([^#]*?)(?:\s+#\s*(.*?))?\s*$/;
/** Text that YAML takes literally. */
const PLAIN = /^[A-Za-z0-9._](?:[A-Za-z0-9._/+@-]|:(?=[A-Za-z0-9._/:]))*$/;
const WORDS = /^(?:null|true|false|yes|no|on|off|~|[-+.]?[\d.]+)$/i;

/**
 * The text of a list from a file with one entry a line; lines that are empty or begin with `#` are skipped. The
 * entries are not validated here: the reader of the list reports invalid ones, by the line of this text, which
 * is that of the file and `FIRST_LINE` more where no line was left out.
 */
export function listFromLines(
  name: string,
  of: ListSort,
  lines: string,
): { readonly text: string; readonly lineOf: Uint32Array } {
  const parts = [`list: ${name}\nof: ${of}\nentries:\n`];
  const lineOf: number[] = [];
  let at = 0;
  for (let line = 1; at < lines.length; line++) {
    const end = lines.indexOf('\n', at);
    const whole = lines.slice(at, end < 0 ? lines.length : end).trim();
    at = end < 0 ? lines.length : end + 1;
    if (whole === '' || whole.startsWith('#')) continue;
    const [, entry = whole, note] = LINE.exec(whole) ?? [];
    parts.push(`  - ${written(entry, note)}\n`);
    lineOf.push(line);
  }
  return {
    text: lineOf.length === 0 ? `list: ${name}\nof: ${of}\n` : parts.join(''),
    lineOf: Uint32Array.from(lineOf),
  };
}

/** This many lines come before the first entry. */
export const FIRST_LINE = 3;

function written(entry: string, note: string | undefined): string {
  const word = PLAIN.test(entry) && !WORDS.test(entry) ? entry : JSON.stringify(entry);
  return note ? `{entry: ${word}, note: ${JSON.stringify(note)}}` : word;
}
