import { readAddressTerm, readTerms } from '../condition/index.js';
import { isMapPlace, isNothing, type MapEntry, type Place, type Sink, tryHeaderName } from '../text/index.js';
import type { ClientSource } from './policy.js';

/** Reads `client: {from: peer | forwarded | {header: NAME}, trust: [..]}`; without it the client is the peer. */
export function readClientSource(sink: Sink, entry: MapEntry | undefined): ClientSource {
  const entries = entry && sink.entries(entry.value, ['from', 'trust']);
  const from = entries?.get('from');
  if (entry === undefined || entries === undefined) return { from: 'peer' };
  if (from === undefined) {
    sink.missingKey(entry.value, entry.key.place, 'from', ['peer', 'forwarded']);
    return { from: 'peer' };
  }
  const trustPlace = entries.get('trust');
  const trust = readTerms(sink, trustPlace?.value, readAddressTerm);
  const header = isMapPlace(from.value) ? readHeader(sink, from.value) : undefined;
  const word = isMapPlace(from.value) ? undefined : readWord(sink, from.value);
  if (word === 'peer' && trustPlace) sink.add(trustPlace.key.place, { code: 'trust-without-source' });
  if (word !== 'forwarded' && header === undefined) return { from: 'peer' };
  if (trust.length === 0 && (trustPlace === undefined || isNothing(trustPlace.value)))
    sink.add(entry.key.place, {
      code: 'missing-trust',
      source: header ? `the header \`${header}\`` : 'forwarding headers',
    });
  return header === undefined ? { from: 'forwarded', trust } : { from: 'header', header, trust };
}

function readWord(sink: Sink, place: Place): 'peer' | 'forwarded' | undefined {
  const word = sink.word(place);
  if (word === undefined || word.text === 'peer' || word.text === 'forwarded') return word?.text as never;
  sink.add(word.place, { code: 'bad-client-source', text: word.text });
  return undefined;
}

function readHeader(sink: Sink, place: Place): string | undefined {
  const value = sink.entries(place, ['header'])?.get('header')?.value;
  const word = value && sink.word(value);
  if (word === undefined) return undefined;
  const name = tryHeaderName(word.text);
  if (name !== undefined) return name;
  sink.add(word.place, { code: 'bad-header', text: word.text });
  return undefined;
}
