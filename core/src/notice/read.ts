import { suggest } from '../issue/index.js';
import { type MapEntry, readName, readNote, readWholeNumber, type Sink, type TextDocument } from '../text/index.js';
import { type Notice, PLACEHOLDERS, placeholdersIn } from './notice.js';

const KEYS = ['notice', 'note', 'status', 'title', 'text', 'contact'];
const LONGEST_TEXT = 10_000;

/** Reads a `notice` document; undefined when it has no readable name. */
export function readNotice({ root, sink }: TextDocument): Notice | undefined {
  const entries = sink.entries(root, KEYS);
  const nameEntry = entries?.get('notice');
  if (entries === undefined || nameEntry === undefined) return undefined;
  const name = readName(sink, nameEntry.value)?.text;
  if (!entries.has('title')) sink.missingKey(root, nameEntry.key.place, 'title');
  const notice = {
    type: 'notice' as const,
    file: sink.file,
    note: readNote(sink, entries),
    status: readWholeNumber(sink, entries.get('status'), 'a status that says no', 400, 599),
    title: readText(sink, entries.get('title')) ?? '',
    text: readText(sink, entries.get('text')) ?? '',
    contact: readText(sink, entries.get('contact')),
  };
  return name === undefined ? undefined : { ...notice, name };
}

function readText(sink: Sink, entry: MapEntry | undefined): string | undefined {
  const word = entry && sink.word(entry.value);
  if (word === undefined) return undefined;
  if (word.text.length > LONGEST_TEXT) sink.add(word.place, { code: 'too-long', limit: LONGEST_TEXT });
  for (const text of placeholdersIn(word.text))
    if (!PLACEHOLDERS.some((known) => known === text))
      sink.add(word.place, {
        code: 'unknown-value',
        text,
        known: PLACEHOLDERS,
        suggestion: suggest(text, PLACEHOLDERS),
      });
  return word.text;
}
