import { type Field, fieldName, tryAmount, tryField } from '../condition/index.js';
import { isNothing, type MapEntry, type Place, readDuration, type Sink } from '../text/index.js';
import { type KeyPart, LEAST_SPAN, type Limit, MOST_HOLD, MOST_REQUESTS, MOST_WITHIN } from './limit.js';

const ADDRESS_FIELDS: readonly Field[] = ['client', 'peer', 'destination'];
/** Fields that are not one value of the request, so that nothing could be counted by them. */
const NO_KEYS: readonly Field[] = ['time', 'tag', 'category', 'application', 'size'];
const MOST_PARTS = 8;

/** Reads `limit: {more-than, within, per, hold}`. */
export function readLimit(sink: Sink, entry: MapEntry | undefined): Limit | undefined {
  const entries = entry && sink.entries(entry.value, ['more-than', 'within', 'per', 'hold']);
  if (entry === undefined || entries === undefined) return undefined;
  for (const key of ['more-than', 'within', 'per'])
    if (!entries.has(key)) sink.missingKey(entry.value, entry.key.place, key);
  const amount = readAmount(sink, entries.get('more-than'));
  const within = readDuration(sink, entries.get('within'), LEAST_SPAN, MOST_WITHIN);
  const hold = readDuration(sink, entries.get('hold'), LEAST_SPAN, MOST_HOLD);
  const per = readParts(sink, entries.get('per')?.value);
  if (amount === undefined || within === undefined) return undefined;
  return { ...amount, within, per, hold: hold ?? 0 };
}

function readAmount(sink: Sink, entry: MapEntry | undefined): Pick<Limit, 'moreThan' | 'counts'> | undefined {
  const word = entry && sink.word(entry.value);
  if (word === undefined) return undefined;
  const counts = /^\d+$/.test(word.text) ? 'requests' : 'bytes';
  const moreThan = tryAmount(word.text);
  if (
    moreThan !== undefined &&
    moreThan >= 1 &&
    moreThan <= (counts === 'bytes' ? Number.MAX_SAFE_INTEGER : MOST_REQUESTS)
  )
    return { moreThan, counts };
  sink.add(word.place, { code: 'bad-limit', text: word.text, most: MOST_REQUESTS });
  return undefined;
}

function readParts(sink: Sink, place: Place | undefined): KeyPart[] {
  if (place === undefined || isNothing(place)) return [];
  const items = sink.items(place) ?? [];
  if (items.length > MOST_PARTS) sink.add(place, { code: 'too-many', what: 'fields in one key', limit: MOST_PARTS });
  const seen = new Set<string>();
  return items.flatMap((item) => {
    const word = sink.word(item);
    const part = word && tryPart(word.text);
    if (word && !part) sink.add(item, { code: 'bad-key', text: word.text });
    if (word && part && seen.has(formatKeyPart(part))) sink.add(item, { code: 'duplicate-key-part', text: word.text });
    if (part) seen.add(formatKeyPart(part));
    return part ?? [];
  });
}

function tryPart(text: string): KeyPart | undefined {
  const found = /^([a-z]+)\/(\d{1,3})$/.exec(text);
  const place = tryField(found ? (found[1] as string) : text);
  if (place === undefined || NO_KEYS.includes(place.field)) return undefined;
  if (!found) return { ...place, prefix: undefined };
  const prefix = Number(found[2]);
  return ADDRESS_FIELDS.includes(place.field) && prefix >= 1 && prefix <= 128 ? { ...place, prefix } : undefined;
}

/** The part as it is written. */
export const formatKeyPart = (part: KeyPart): string =>
  part.prefix === undefined ? fieldName(part) : `${fieldName(part)}/${part.prefix}`;
