import { readHostTerm, readUrlTerm, type TermReader } from '../condition/index.js';
import { isNothing, type Place, readName, readNote, type Sink, type TextDocument } from '../text/index.js';
import type { Category } from './category.js';

const KEYS = ['category', 'note', 'domains', 'urls'];
/** What means that a destination is in no category. */
const RESERVED = 'uncategorised';

/** Reads a `category` document; undefined where its name cannot be told. */
export function readCategory({ root, sink }: TextDocument): Category | undefined {
  const entries = sink.entries(root, KEYS);
  const nameEntry = entries?.get('category');
  if (entries === undefined || nameEntry === undefined) return undefined;
  const name = readName(sink, nameEntry.value)?.text;
  if (name === RESERVED) sink.add(nameEntry.value, { code: 'reserved-name', text: name });
  const category = {
    type: 'category' as const,
    file: sink.file,
    note: readNote(sink, entries),
    domains: readTerms(sink, entries.get('domains')?.value, readHostTerm),
    urls: readTerms(sink, entries.get('urls')?.value, readUrlTerm),
  };
  return name === undefined ? undefined : { ...category, name };
}

function readTerms<T>(sink: Sink, place: Place | undefined, read: TermReader<T>): T[] {
  if (place === undefined || isNothing(place)) return [];
  return (sink.items(place) ?? []).flatMap((item) => read(sink, item) ?? []);
}
