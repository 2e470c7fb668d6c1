import { durationPhrase, parseDuration } from './duration.js';
import type { MapEntry, Sink } from './place.js';

type Entries = ReadonlyMap<string, MapEntry>;

/** The text of `note`, or of another key that takes any text. */
export function readNote(sink: Sink, entries: Entries, key = 'note'): string | undefined {
  const entry = entries.get(key);
  return entry && sink.word(entry.value)?.text;
}

/** One of the known words; the fallback where the key is not there or its word is none of them. */
export function readChoiceOr<T extends string>(
  sink: Sink,
  entries: Entries,
  key: string,
  known: readonly T[],
  fallback: T,
): T {
  const entry = entries.get(key);
  return (entry && sink.choice(entry.value, known)) ?? fallback;
}

/** A duration within bounds, in milliseconds; undefined where the key is not there or faulty. */
export function readDuration(sink: Sink, entry: MapEntry | undefined, least: number, most: number): number | undefined {
  const word = entry && sink.word(entry.value);
  if (word === undefined) return undefined;
  const duration = parseDuration(word.text);
  if (duration !== undefined && duration >= least && duration <= most) return duration;
  sink.add(word.place, {
    code: 'bad-duration',
    text: word.text,
    least: durationPhrase(least),
    most: durationPhrase(most),
  });
  return undefined;
}

/** A whole number within bounds; undefined where the key is not there or faulty. */
export function readWholeNumber(
  sink: Sink,
  entry: MapEntry | undefined,
  what: string,
  least: number,
  most: number,
): number | undefined {
  const word = entry && sink.word(entry.value);
  if (word === undefined) return undefined;
  const number = /^\d{1,15}$/.test(word.text) ? Number(word.text) : Number.NaN;
  if (number >= least && number <= most) return number;
  sink.add(word.place, { code: 'bad-number', text: word.text, what, least, most });
  return undefined;
}
