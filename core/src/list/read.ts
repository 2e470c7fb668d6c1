import { type AddressRange, isRangeFault, tryRange } from '../address/index.js';
import { isCountryCode } from '../country/index.js';
import { type DomainPattern, tryDomainPattern } from '../domain/index.js';
import type { Fault } from '../issue/index.js';
import { isTextPatternFault, type TextPattern, tryTextPattern } from '../pattern/index.js';
import {
  isMapPlace,
  isNothing,
  type Place,
  parseTime,
  readName,
  readReferences,
  type Sink,
  type TextDocument,
} from '../text/index.js';
import { isUrlFault, tryUrlPattern, type UrlPattern } from '../url/index.js';
import { addressFault, hostFault, textFault, urlFault } from './fault.js';
import {
  type AddressList,
  type AgentList,
  type CountryList,
  type DomainList,
  type Entry,
  LIST_SORTS,
  type List,
  type UrlList,
  type UserList,
} from './list.js';
import { suggestCountry } from './suggest-country.js';
import { tryUser } from './user.js';

const KEYS = ['list', 'of', 'entries', 'include', 'note'];

type Reader<T> = (text: string) => { value: T } | { fault: Fault };

/** Reads a `list` document; undefined when its name or sort cannot be read. */
export function readList({ root, sink }: TextDocument): List | undefined {
  const entries = sink.entries(root, KEYS);
  const nameEntry = entries?.get('list');
  if (entries === undefined || nameEntry === undefined) return undefined;
  const name = readName(sink, nameEntry.value)?.text;
  const sortPlace = entries.get('of')?.value;
  if (sortPlace === undefined) sink.missingKey(root, nameEntry.key.place, 'of', LIST_SORTS);
  const sort = sortPlace && sink.choice(sortPlace, LIST_SORTS);
  if (name === undefined || sort === undefined) return undefined;
  const include = readReferences(sink, entries.get('include')?.value);
  const place = entries.get('entries')?.value;
  const base = { type: 'list', name, file: sink.file, include } as const;
  switch (sort) {
    case 'addresses':
      return { ...base, of: sort, entries: readEntries(sink, place, readAddress) } satisfies AddressList;
    case 'countries':
      return { ...base, of: sort, entries: readEntries(sink, place, readCountry) } satisfies CountryList;
    case 'domains':
      return { ...base, of: sort, entries: readEntries(sink, place, readDomain) } satisfies DomainList;
    case 'urls':
      return { ...base, of: sort, entries: readEntries(sink, place, readUrl) } satisfies UrlList;
    case 'users':
      return { ...base, of: sort, entries: readEntries(sink, place, readUser) } satisfies UserList;
    case 'agents':
      return { ...base, of: sort, entries: readEntries(sink, place, readAgent) } satisfies AgentList;
  }
}

function readEntries<T>(sink: Sink, place: Place | undefined, read: Reader<T>): Entry<T>[] {
  if (place === undefined || isNothing(place)) return [];
  return (sink.items(place) ?? []).flatMap((item) => readEntry(sink, item, read));
}

function readEntry<T>(sink: Sink, place: Place, read: Reader<T>): Entry<T>[] {
  const fields = isMapPlace(place) ? sink.entries(place, ['entry', 'note', 'until']) : undefined;
  const valuePlace = fields ? fields.get('entry')?.value : place;
  if (valuePlace === undefined) {
    sink.missingKey(place, place, 'entry');
    return [];
  }
  const word = sink.word(valuePlace);
  const note = fields?.get('note') && sink.word(fields.get('note')!.value)?.text;
  const until = readUntil(sink, fields?.get('until')?.value);
  if (word === undefined) return [];
  if (word.text.startsWith('list:')) {
    sink.add(valuePlace, { code: 'list-in-list', text: word.text, name: word.text.slice('list:'.length).trim() });
    return [];
  }
  const result = read(word.text);
  if ('fault' in result) {
    sink.add(valuePlace, result.fault);
    return [];
  }
  return [{ value: result.value, text: word.text, note, until }];
}

function readUntil(sink: Sink, place: Place | undefined): number | undefined {
  const word = place && sink.word(place);
  if (word === undefined) return undefined;
  const time = parseTime(word.text);
  if (time === undefined) sink.add(word.place, { code: 'bad-time', text: word.text });
  return time;
}

function readAddress(text: string): { value: AddressRange } | { fault: Fault } {
  const range = tryRange(text);
  return isRangeFault(range) ? { fault: addressFault(text, range) } : { value: range };
}

function readCountry(text: string): { value: string } | { fault: Fault } {
  const code = text.toUpperCase();
  if (isCountryCode(code)) return { value: code };
  return { fault: { code: 'bad-country', text, suggestion: suggestCountry(text) } };
}

function readDomain(text: string): { value: DomainPattern } | { fault: Fault } {
  const pattern = tryDomainPattern(text);
  return typeof pattern === 'string' ? { fault: hostFault(text, pattern) } : { value: pattern };
}

function readUrl(text: string): { value: UrlPattern } | { fault: Fault } {
  const pattern = tryUrlPattern(text);
  return isUrlFault(pattern) ? { fault: urlFault(text, pattern) } : { value: pattern };
}

function readUser(text: string): { value: string } | { fault: Fault } {
  const user = tryUser(text);
  if (user === 'anonymous') return { fault: { code: 'anonymous-in-list' } };
  return user === undefined ? { fault: { code: 'bad-user', text } } : { value: user };
}

function readAgent(text: string): { value: TextPattern } | { fault: Fault } {
  const pattern = tryTextPattern(text);
  return isTextPatternFault(pattern) ? { fault: textFault(text, pattern) } : { value: pattern };
}
