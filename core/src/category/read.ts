import { readHostTerm, readTerms, readUrlTerm } from '../condition/index.js';
import { readName, readNote, type TextDocument } from '../text/index.js';
import type { Category } from './category.js';

const KEYS = ['category', 'note', 'domains', 'urls'];
/** The name for a destination in no category. */
const RESERVED = 'uncategorised';

/** Reads a `category` document; undefined when it has no readable name. */
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
