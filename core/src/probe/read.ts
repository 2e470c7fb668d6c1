import { type Address, tryAddress } from '../address/index.js';
import { readCountry, tryUser } from '../list/index.js';
import {
  isNothing,
  type MapEntry,
  readName,
  readNote,
  type Sink,
  type TextDocument,
  tryHeaderName,
} from '../text/index.js';
import type { Probe } from './probe.js';

const KEYS = ['probe', 'note', 'client', 'country', 'user', 'groups', 'agent', 'headers'];

/** Reads a `probe` document; undefined when it has no readable name. */
export function readProbe({ root, sink }: TextDocument): Probe | undefined {
  const entries = sink.entries(root, KEYS);
  const nameEntry = entries?.get('probe');
  if (entries === undefined || nameEntry === undefined) return undefined;
  const name = readName(sink, nameEntry.value)?.text;
  const user = readUser(sink, entries.get('user'));
  const probe = {
    type: 'probe' as const,
    file: sink.file,
    note: readNote(sink, entries),
    client: readAddress(sink, entries.get('client')),
    country: readCountry(sink, entries.get('country')?.value),
    user: user === 'anonymous' ? '' : user,
    groups: readGroups(sink, entries.get('groups')),
    agent: readAgent(sink, entries.get('agent')),
    headers: readHeaders(sink, entries.get('headers')),
  };
  return name === undefined ? undefined : { ...probe, name };
}

function readAddress(sink: Sink, entry: MapEntry | undefined): Address | undefined {
  const word = entry && sink.word(entry.value);
  if (word === undefined) return undefined;
  const address = tryAddress(word.text);
  if (typeof address !== 'string') return address;
  sink.add(word.place, { code: 'bad-address', text: word.text, reason: address });
  return undefined;
}

function readUser(sink: Sink, entry: MapEntry | undefined): string | undefined {
  const word = entry && sink.word(entry.value);
  const user = word && tryUser(word.text);
  if (word && user === undefined) sink.add(word.place, { code: 'bad-user', text: word.text });
  return user;
}

function readGroups(sink: Sink, entry: MapEntry | undefined): string[] | undefined {
  if (entry === undefined || isNothing(entry.value)) return undefined;
  return (sink.items(entry.value) ?? []).flatMap((value) => readUser(sink, { ...entry, value }) ?? []);
}

/** `absent` means that it sends none. */
function readAgent(sink: Sink, entry: MapEntry | undefined): string | undefined {
  const text = entry && sink.word(entry.value)?.text;
  return text === 'absent' ? '' : text;
}

function readHeaders(sink: Sink, entry: MapEntry | undefined): Map<string, readonly string[]> | undefined {
  const entries = entry && !isNothing(entry.value) ? sink.entries(entry.value) : undefined;
  if (entries === undefined) return undefined;
  const found = new Map<string, readonly string[]>();
  for (const { key, value } of entries.values()) {
    const texts = (sink.items(value) ?? []).flatMap((item) => sink.word(item)?.text ?? []);
    const name = tryHeaderName(key.text);
    if (name === undefined) sink.add(key.place, { code: 'bad-header', text: key.text });
    else found.set(name, texts);
  }
  return found;
}
