/** A range of many plain items of a list, one below the other: from the start of the first of these lines on. */
export interface Run {
  readonly start: number;
  readonly end: number;
}

/** Fewer lines are not worth it. */
const LEAST_LINES = 64;
/** Only under this key at the start of a line: nothing there can be a part of a longer text. */
const KEY = /^entries:[ \t]*(?:#[^\n]*)?\r?\n/gm;
/** A word that YAML takes literally: no quotes, no colon before a blank, nothing that means something else. */
const ITEM = /( *)- +[A-Za-z0-9._](?:[A-Za-z0-9._/+@-]|:(?=[A-Za-z0-9._/:]))*[ \t]*\r?\n/y;
const NOTHING = /^ *- +(?:null|Null|NULL)[ \t]*\r?\n$/;

/**
 * Finds long runs of plain items, and answers the text with a comment of the same length in their place: a parser of
 * YAML takes some thirty microseconds for an item, and a list may have a million. The first and the last item of each run
 * stay, so that the comment is inside the list.
 */
export function cutRuns(text: string): { readonly text: string; readonly runs: readonly Run[] } {
  const runs: Run[] = [];
  for (const key of text.matchAll(KEY)) runs.push(...runsFrom(text, key.index + key[0].length));
  if (runs.length === 0) return { text, runs };
  const parts: string[] = [];
  let at = 0;
  for (const { start, end } of runs) {
    parts.push(text.slice(at, start), '#'.padEnd(end - start - 1, '-'), '\n');
    at = end;
  }
  parts.push(text.slice(at));
  return { text: parts.join(''), runs };
}

function runsFrom(text: string, from: number): Run[] {
  const runs: Run[] = [];
  let at = from;
  let indent: number | undefined;
  while (at < text.length) {
    const { lines, end, second, last } = runAt(text, at, indent);
    if (lines > LEAST_LINES) runs.push({ start: second, end: last });
    indent ??= lines > 0 ? indentOf(text, at) : undefined;
    // Anything else may be an item too, which the parser reads; text at the start of a line ends the list.
    const line = text.indexOf('\n', end);
    if (line < 0 || !/[ #\-\r\n]/.test(text[end] ?? '')) break;
    at = line + 1;
  }
  return runs;
}

const indentOf = (text: string, at: number): number => /^ */.exec(text.slice(at, at + 200))?.[0].length ?? 0;

/** The items from a place on: how many, where they end, and where the second and the last of them begin. */
function runAt(text: string, at: number, indent: number | undefined) {
  let lines = 0;
  let end = at;
  let second = at;
  let last = at;
  let own = indent;
  ITEM.lastIndex = at;
  for (let item = ITEM.exec(text); item !== null; item = ITEM.exec(text)) {
    own ??= (item[1] as string).length;
    if ((item[1] as string).length !== own || NOTHING.test(item[0])) break;
    if (lines === 1) second = end;
    last = end;
    lines++;
    end += item[0].length;
  }
  return { lines, end, second, last };
}

/** The items of a run, each with the offset of its word. */
export function* itemsOf(text: string, { start, end }: Run): Generator<{ start: number; end: number; word: string }> {
  for (let line = start; line < end; ) {
    const next = text.indexOf('\n', line) + 1;
    const word = text.slice(text.indexOf('-', line) + 1, next).trim();
    const from = text.indexOf(word, line);
    yield { start: from, end: from + word.length, word };
    line = next;
  }
}
