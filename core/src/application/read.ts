import { readConditions } from '../condition/index.js';
import {
  readName,
  readNote,
  readReference,
  readReferences,
  readWholeNumber,
  type TextDocument,
} from '../text/index.js';
import { type Application, IDENTIFYING_FIELDS } from './application.js';

const KEYS = ['application', 'note', 'when', 'category', 'risk', 'needs'];
/** The name for a request of no application. */
const RESERVED = 'unidentified';

/** Reads an `application` document; undefined when it has no readable name. */
export function readApplication({ root, sink }: TextDocument): Application | undefined {
  const entries = sink.entries(root, KEYS);
  const nameEntry = entries?.get('application');
  if (entries === undefined || nameEntry === undefined) return undefined;
  const name = readName(sink, nameEntry.value)?.text;
  if (name === RESERVED) sink.add(nameEntry.value, { code: 'reserved-name', text: name });
  if (!entries.has('when')) sink.missingKey(root, nameEntry.key.place, 'when');
  const application = {
    type: 'application' as const,
    file: sink.file,
    note: readNote(sink, entries),
    when: readConditions(sink, entries.get('when')?.value, IDENTIFYING_FIELDS),
    category: readReference(sink, entries.get('category')?.value),
    risk: readWholeNumber(sink, entries.get('risk'), 'a risk', 1, 5),
    needs: readReferences(sink, entries.get('needs')?.value),
  };
  return name === undefined ? undefined : { ...application, name };
}
