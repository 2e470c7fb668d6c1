import { type LineResult, lineFault } from '../line.js';
import { fieldsOfRow } from './columns.js';
import { unescaped } from './escapes.js';
import { isMappable } from './mapping.js';
import { readRequest } from './request-fields.js';
import { readTimeForm, type TimeForm, timeLength, tryTimeForm } from './time-form.js';

/*
 * Lines of text of any shape, by a pattern: text as it is, with fields in braces. `{peer} - {user} [{time}] "{request}"`.
 * A field goes up to where the text behind it comes first; in quotes, up to the quote that no backslash precedes. Nothing
 * is tried again further behind: who can write into a field could else choose where it ends.
 */

/** A part of a line: text, or the value of a field. */
type Part =
  | { readonly type: 'text'; readonly words: readonly string[] }
  | { readonly type: 'field'; readonly field: string; readonly quoted: boolean; readonly form: TimeForm | undefined };

export interface LinePattern {
  readonly parts: readonly Part[];
  /** The fields of the parts that are fields, in order; undefined for those that are skipped. */
  readonly fields: readonly (string | undefined)[];
}

/** Why a pattern is none, with the part of it that is meant. */
export interface PatternFault {
  readonly fault:
    | 'open-brace'
    | 'no-field-name'
    | 'side-by-side'
    | 'twice'
    | 'bad-form'
    | 'matches-all'
    | 'no-fields'
    | 'too-long';
  readonly detail: string;
}

const LONGEST_PATTERN = 2000;
/** A part of a line that is not looked at. */
const SKIPPED = '-';

/** Reads a pattern, or says why it is none. */
export function tryLinePattern(text: string): LinePattern | PatternFault {
  if (text.length > LONGEST_PATTERN) return { fault: 'too-long', detail: `${LONGEST_PATTERN} characters` };
  const raw = partsOf(text);
  if ('fault' in raw) return raw;
  const parts: Part[] = [];
  const seen = new Set<string>();
  for (const [at, part] of raw.entries()) {
    if (part.type === 'text') {
      parts.push({ type: 'text', words: part.text.split(/[ \t]+/) });
      continue;
    }
    const before = raw[at - 1];
    const behind = raw[at + 1];
    if (before?.type === 'field') return { fault: 'side-by-side', detail: `{${before.name}}{${part.name}}` };
    const field = fieldOf(part.name);
    if ('fault' in field) return field;
    if (field.name !== SKIPPED && seen.has(field.name)) return { fault: 'twice', detail: `{${field.name}}` };
    seen.add(field.name);
    const quoted =
      before?.type === 'text' && before.text.endsWith('"') && behind?.type === 'text' && behind.text.startsWith('"');
    parts.push({ type: 'field', field: field.name, quoted, form: field.form });
  }
  const named = parts.filter((part) => part.type === 'field' && part.field !== SKIPPED);
  if (named.length === 0) return { fault: 'no-fields', detail: text };
  if (!parts.some((part) => part.type === 'text')) return { fault: 'matches-all', detail: text };
  const fields = parts.flatMap((part) =>
    part.type === 'field' ? [part.field === SKIPPED ? undefined : part.field] : [],
  );
  return { parts, fields };
}

type RawPart = { readonly type: 'text'; readonly text: string } | { readonly type: 'field'; readonly name: string };

/** The text and the names in braces; a brace by itself is written twice. */
function partsOf(text: string): RawPart[] | PatternFault {
  const parts: RawPart[] = [];
  let plain = '';
  const flush = () => {
    if (plain !== '') parts.push({ type: 'text', text: plain });
    plain = '';
  };
  for (let at = 0; at < text.length; at++) {
    const character = text[at] as string;
    if ((character === '{' || character === '}') && text[at + 1] === character) {
      plain += character;
      at++;
    } else if (character === '{') {
      const end = text.indexOf('}', at);
      if (end < 0) return { fault: 'open-brace', detail: text.slice(at) };
      flush();
      parts.push({ type: 'field', name: text.slice(at + 1, end).trim() });
      at = end;
    } else if (character === '}') return { fault: 'open-brace', detail: text.slice(0, at + 1) };
    else plain += character;
  }
  flush();
  return parts;
}

function fieldOf(text: string): { readonly name: string; readonly form: TimeForm | undefined } | PatternFault {
  const colon = text.indexOf(':');
  const name = (colon < 0 ? text : text.slice(0, colon)).trim().toLowerCase();
  const form = colon < 0 ? undefined : tryTimeForm(text.slice(colon + 1).trim());
  if (colon >= 0 && (name !== 'time' || form === undefined)) return { fault: 'bad-form', detail: `{${text}}` };
  const isKnown = name === SKIPPED || name === 'date' || name === 'clock';
  if (!isKnown && (!isMappable(name) || ['headers', 'header.*'].includes(name)))
    return { fault: 'no-field-name', detail: `{${text}}` };
  return { name: name === 'clock' ? 'time' : name, form };
}

/** Reads one line by a pattern. Its times without an offset are of the zone; default UTC. */
export function readPatternLine(
  line: string,
  { parts, fields }: LinePattern,
  zone: string | undefined,
  ignored: Map<string, number>,
): LineResult {
  const row: string[] = [];
  let at = 0;
  for (const [number, part] of parts.entries()) {
    if (part.type === 'text') {
      at = endOfText(line, at, part.words);
      if (at < 0) return lineFault('not-as-pattern', line);
      continue;
    }
    const next = parts[number + 1];
    const end = endOf(line, at, part, next);
    if (end < at) return lineFault('not-as-pattern', line.slice(at));
    const value = part.quoted ? unescaped(line.slice(at, end)) : line.slice(at, end);
    row.push(part.form === undefined ? value : readTimeForm(value, part.form, zone));
    at = end;
  }
  if (line.slice(at).trim() !== '') return lineFault('not-as-pattern', line.slice(at));
  return readRequest(fieldsOfRow(fields, row, zone), ignored);
}

/** Where a value ends. A time may hold blanks, and ends by itself. */
function endOf(
  line: string,
  at: number,
  part: Extract<Part, { readonly type: 'field' }>,
  next: Part | undefined,
): number {
  const timed = part.field === 'time' ? timeLength(line.slice(at, at + LONGEST_TIME), part.form) : 0;
  if (timed > 0 && (next?.type !== 'text' || endOfText(line, at + timed, next.words) >= 0)) return at + timed;
  return next === undefined ? line.trimEnd().length : endOfField(line, at, part.quoted, next);
}

const LONGEST_TIME = 100;

/** Where the value of a field ends: before the text behind it; −1 where that does not come. */
function endOfField(line: string, from: number, quoted: boolean, next: Part): number {
  if (next.type !== 'text') return -1;
  if (quoted) {
    for (let at = from; at < line.length; at++) {
      if (line[at] === '\\') at++;
      else if (line[at] === '"') return at;
    }
    return -1;
  }
  const [first = ''] = next.words;
  for (let at = from; at <= line.length; at++) {
    const found = first === '' ? blankAt(line, at) : line.indexOf(first, at);
    if (found < 0) return -1;
    if (endOfText(line, found, next.words) >= 0) return found;
    // From every blank of a run the same text is looked for: one look is enough, however long a run somebody writes.
    at = first === '' ? endOfBlanks(line, found) - 1 : found;
  }
  return -1;
}

/** Where the text ends that starts here, with any number of blanks for one; −1 where it is not here. */
function endOfText(line: string, from: number, words: readonly string[]): number {
  let at = from;
  for (const [number, word] of words.entries()) {
    if (number > 0) {
      const start = at;
      at = endOfBlanks(line, at);
      // At the end of a line blanks may be cut off.
      if (at === start && at < line.length) return -1;
    }
    if (!line.startsWith(word, at)) return -1;
    at += word.length;
  }
  return at;
}

function endOfBlanks(line: string, from: number): number {
  let at = from;
  while (line[at] === ' ' || line[at] === '\t') at++;
  return at;
}

function blankAt(line: string, from: number): number {
  for (let at = from; at < line.length; at++) if (line[at] === ' ' || line[at] === '\t') return at;
  return -1;
}
