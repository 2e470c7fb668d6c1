import type { Site } from '../issue/index.js';
import { isNothing, type Place, type Sink, siteOf, type Word } from './place.js';

const NAME = /^[a-z0-9-]{1,64}$/;

/** True of 1 to 64 of a-z, 0-9 and -. */
export const isName = (text: string): boolean => NAME.test(text);

/** A name: 1 to 64 of a-z, 0-9 and -. */
export function readName(sink: Sink, place: Place): Word | undefined {
  const word = sink.word(place);
  if (word === undefined || isName(word.text)) return word;
  sink.add(place, { code: 'bad-name', text: word.text });
  return undefined;
}

/** A name that a document speaks of, and where. */
export interface NamePlace {
  readonly name: string;
  readonly at: Site;
}

/** The name of another object; undefined where there is none or it is faulty. */
export function readReference(sink: Sink, place: Place | undefined): NamePlace | undefined {
  const word = place && readName(sink, place);
  return word && { name: word.text, at: siteOf(word.place) };
}

/** The names of other objects: a list, or one by itself. */
export function readReferences(sink: Sink, place: Place | undefined): NamePlace[] {
  if (place === undefined || isNothing(place)) return [];
  return (sink.items(place) ?? []).flatMap((item) => readReference(sink, item) ?? []);
}

const HEADER_NAME = /^[a-z0-9!#$%&'*+.^_`|~-]{1,100}$/;

/** The name of a header in lower case (a token of RFC 9110); undefined where it is none. */
export function tryHeaderName(text: string): string | undefined {
  const name = text.toLowerCase();
  return HEADER_NAME.test(name) ? name : undefined;
}
