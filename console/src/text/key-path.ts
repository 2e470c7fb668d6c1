/** Where in a YAML text somebody writes: the keys that lead there, and whether it is at a key or behind one. */
export interface Place {
  /** Keys of maps from the root on; lists add none. */
  readonly path: readonly string[];
  readonly at: 'key' | 'value';
  /** What has been written of the word so far. */
  readonly word: string;
}

const KEY = /^(?:- +)*("?)([A-Za-z0-9_.-]+)\1 *:(?: |$)/;

/**
 * The place of an offset in a text, by its lines and their indentation: a text that is being written is seldom whole, so
 * that no reader of YAML would take it.
 */
export function placeAt(text: string, offset: number): Place {
  const before = text.slice(0, offset);
  const line = before.slice(before.lastIndexOf('\n') + 1);
  const word = /[^\s[\]{},:"']*$/.exec(line)?.[0] ?? '';
  const open = openBrackets(line);
  const innermost = open.at(-1);
  if (innermost) {
    const path = [...pathAbove(before, line), ...open.flatMap(({ key }) => key ?? [])];
    if (innermost.sign === '[') return { path, at: 'value', word };
    const key = keyIn(line.slice(innermost.lastPart));
    return key === undefined ? { path, at: 'key', word } : { path: [...path, key], at: 'value', word };
  }
  const above = pathAbove(before, line);
  const own = keysOf(line);
  if (own.length > 0) return { path: [...above, ...own], at: 'value', word };
  return { path: above, at: isItem(line) && !mayBeKey(before, line) ? 'value' : 'key', word };
}

const isItem = (line: string): boolean => /^\s*- /.test(line);
const indentOf = (line: string): number => /^ */.exec(line)?.[0].length ?? 0;
/** The column at which a line's own key or word begins, behind the dashes of lists. */
const columnOf = (line: string): number => /^ *(?:- +)*/.exec(line)?.[0].length ?? 0;

function keysOf(line: string): string[] {
  const [, , key] = KEY.exec(line.trimStart()) ?? [];
  return key === undefined ? [] : [key];
}

/** The keys of the lines above that the line is deeper than. */
function pathAbove(before: string, line: string): string[] {
  const lines = before
    .slice(0, before.length - line.length)
    .split('\n')
    .slice(0, -1);
  const path: string[] = [];
  let column = columnOf(line);
  // An item of a list may have the indentation of the key that it is under.
  let mayEqual = isItem(line) ? indentOf(line) : -1;
  for (const above of lines.reverse()) {
    if (above.trim() === '' || above.trimStart().startsWith('#')) continue;
    if (/^(?:---|\.\.\.)/.test(above)) break;
    const own = columnOf(above);
    const [key] = keysOf(above);
    const isAbove = own < column || (own === mayEqual && own === indentOf(above));
    if (!isAbove || key === undefined) continue;
    // A key with a value of its own has nothing below it.
    if (/:\s+[^\s#|>&!]/.test(above.trimStart().slice(key.length)) && !/:\s*$/.test(above)) {
      if (own < column) column = own;
      continue;
    }
    path.unshift(key);
    column = own;
    mayEqual = isItem(above) ? indentOf(above) : -1;
  }
  return path;
}

/** Whether the list that an item is of has maps as its items, by the item above it. */
function mayBeKey(before: string, line: string): boolean {
  const lines = before
    .slice(0, before.length - line.length)
    .split('\n')
    .slice(0, -1)
    .reverse();
  const item = lines.find((above) => isItem(above) && indentOf(above) === indentOf(line));
  return item === undefined || keysOf(item).length > 0;
}

/** A bracket of a line that is not closed. */
interface OpenBracket {
  readonly sign: string;
  /** The key in front of it. */
  readonly key: string | undefined;
  /** Where its part begins that is being written, behind the last comma. */
  lastPart: number;
}

function openBrackets(line: string): readonly OpenBracket[] {
  const open: OpenBracket[] = [];
  for (let at = 0; at < line.length; at++) {
    const sign = line[at] as string;
    if (sign === '#' && /\s/.test(line[at - 1] ?? ' ')) break;
    const around = open.at(-1);
    if (sign === '{' || sign === '[')
      open.push({ sign, key: keyIn(line.slice(around?.lastPart ?? 0, at)), lastPart: at + 1 });
    else if (sign === '}' || sign === ']') open.pop();
    else if (sign === ',' && around) around.lastPart = at + 1;
  }
  return open;
}

/** The key that a part of a line begins with. */
const keyIn = (part: string): string | undefined => /^\s*(?:- +)*"?([A-Za-z0-9_.-]+)"?\s*:/.exec(part)?.[1];
