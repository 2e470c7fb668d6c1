import { type Document, isMap, isNode, isScalar, isSeq, parseDocument, type YAMLSeq } from 'yaml';
import { cutRuns, type Run } from '../text/index.js';

/** An entry that is to be added, as it is written. */
export interface NewEntry {
  readonly entry: string;
  readonly note?: string | undefined;
  readonly until?: string | undefined;
}

export interface EditedList {
  readonly text: string;
  /** Which of those to remove are not there. */
  readonly missing: readonly string[];
  /** Which of those to add are there already. */
  readonly present: readonly string[];
}

/** Stands for a run of entries while the document is edited. */
const markOf = (number: number) => `# entries ${number} of this list are not shown here`;

/**
 * Adds entries to the text of a list, and removes some, by their text; all else, comments too, stays as it was. A long
 * list is not parsed as a whole, so that one entry of a million is added in the time that it takes to copy the text.
 */
export function editList(text: string, add: readonly NewEntry[], remove: readonly string[]): EditedList {
  const { runs } = cutRuns(text);
  const parts = runs.map((run) => text.slice(run.start, run.end));
  const marked = withMarks(text, runs);
  const document = parseDocument(marked, { version: '1.2' });
  const gone = new Set(remove);
  const found = new Set<string>();
  const present = add.filter(({ entry }) => !gone.has(entry) && has(document, parts, entry)).map(({ entry }) => entry);
  const kept = parts.map((part) => withoutLines(part, gone, found));
  removeItems(document, gone, found);
  const known = new Set(present);
  for (const entry of add) if (!known.has(entry.entry)) addItem(document, entry);
  const edited = document.toString({
    lineWidth: 0,
    // Keeps the style of the old text, as far as it is known.
    flowCollectionPadding: /[{[] /.test(marked) && !/[{[]\S/.test(marked),
    indentSeq: /^entries:[^\n]*\n +-/m.test(marked) || runs.length === 0,
  });
  return {
    text: kept.reduce(withPart, edited),
    missing: remove.filter((entry) => !found.has(entry)),
    present,
  };
}

/** Puts the run back where it was left out. Nothing is worse than to lose it without a word. */
function withPart(text: string, part: string, number: number): string {
  const mark = new RegExp(`^ *${markOf(number)}\\n?`, 'm');
  if (!mark.test(text)) throw new Error(`entries ${number} of the list were lost`);
  return text.replace(mark, () => part);
}

function withMarks(text: string, runs: readonly Run[]): string {
  let marked = '';
  let at = 0;
  runs.forEach(({ start, end }, number) => {
    marked += `${text.slice(at, start)}${markOf(number)}\n`;
    at = end;
  });
  return marked + text.slice(at);
}

const entriesOf = (document: Document): YAMLSeq | undefined => {
  const entries = document.get('entries');
  return isSeq(entries) ? entries : undefined;
};

/** The entry of an item: a word, or a map with `entry`. */
function wordOf(item: unknown): string | undefined {
  const word = isMap(item) ? item.get('entry', true) : item;
  return isScalar(word) ? String(word.source ?? word.value) : undefined;
}

const lineOf = (entry: string): RegExp => new RegExp(`^ *- +${escaped(entry)}[ \\t]*\\r?$`, 'm');
const escaped = (text: string): string => text.replace(/[.*+?^${}()|[\]\\/]/g, '\\$&');

function has(document: Document, parts: readonly string[], entry: string): boolean {
  return (
    entriesOf(document)?.items.some((item) => wordOf(item) === entry) === true ||
    parts.some((part) => part.includes(entry) && lineOf(entry).test(part))
  );
}

function withoutLines(part: string, gone: ReadonlySet<string>, found: Set<string>): string {
  let left = part;
  for (const entry of gone) {
    if (!left.includes(entry)) continue;
    const without = left.replace(new RegExp(`${lineOf(entry).source}\\n?`, 'gm'), '');
    if (without !== left) found.add(entry);
    left = without;
  }
  return left;
}

/** Removes items with the comments above them; comments for a whole run move to the next item, or to the end. */
function removeItems(document: Document, gone: ReadonlySet<string>, found: Set<string>): void {
  const entries = entriesOf(document);
  if (!entries) return;
  let carried = '';
  const kept: unknown[] = [];
  for (const item of entries.items) {
    const word = wordOf(item);
    const node = isNode(item) ? item : undefined;
    if (word !== undefined && gone.has(word)) {
      found.add(word);
      carried += (node?.commentBefore ?? '').split('\n').filter(isMark).map(asLine).join('');
    } else {
      if (node && carried !== '') node.commentBefore = carried + (node.commentBefore ?? '');
      carried = '';
      kept.push(item);
    }
  }
  entries.items = kept;
  if (carried !== '') entries.comment = [carried.trimEnd(), entries.comment].filter(Boolean).join('\n');
}

const isMark = (comment: string): boolean => /^ entries \d+ of this list are not shown here$/.test(comment);
const asLine = (line: string): string => `${line}\n`;

function addItem(document: Document, { entry, note, until }: NewEntry): void {
  const item =
    note === undefined && until === undefined ? entry : { entry, ...(note && { note }), ...(until && { until }) };
  const node = document.createNode(item);
  if (isMap(node)) node.flow = true;
  const entries = entriesOf(document);
  if (entries) entries.add(node);
  else document.set('entries', [node]);
}
