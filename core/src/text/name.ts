import type { Place, Sink, Word } from './place.js';

const NAME = /^[a-z0-9-]{1,64}$/;

export const isName = (text: string): boolean => NAME.test(text);

/** A name: 1 to 64 of a-z, 0-9 and -. */
export function readName(sink: Sink, place: Place): Word | undefined {
  const word = sink.word(place);
  if (word === undefined || isName(word.text)) return word;
  sink.add(place, { code: 'bad-name', text: word.text });
  return undefined;
}
