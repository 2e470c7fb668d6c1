import { formatRange, isRangeFault, tryRange } from '../address/index.js';
import type { Issue } from '../issue/index.js';
import { addressFault, readCountry } from '../list/index.js';
import {
  isNothing,
  type MapEntry,
  type Place,
  readName,
  readNote,
  type Sink,
  siteOf,
  type TextDocument,
} from '../text/index.js';
import type { CorrectedNetwork, Corrections } from './corrections.js';

const KEYS = ['corrections', 'note', 'networks'];

/** Reads a `corrections` document, a map of networks and countries; undefined when it has no readable name. */
export function readCorrections({ root, sink }: TextDocument): Corrections | undefined {
  const entries = sink.entries(root, KEYS);
  const nameEntry = entries?.get('corrections');
  if (entries === undefined || nameEntry === undefined) return undefined;
  const name = readName(sink, nameEntry.value)?.text;
  if (!entries.has('networks')) sink.missingKey(root, nameEntry.key.place, 'networks');
  const networks = readNetworks(sink, entries.get('networks')?.value);
  const note = readNote(sink, entries);
  return name === undefined ? undefined : { type: 'corrections', name, file: sink.file, note, networks };
}

function readNetworks(sink: Sink, place: Place | undefined): CorrectedNetwork[] {
  const entries = place && !isNothing(place) ? sink.entries(place) : undefined;
  return [...(entries?.values() ?? [])].flatMap((entry) => readNetwork(sink, entry));
}

function readNetwork(sink: Sink, { key, value }: MapEntry): CorrectedNetwork[] {
  const range = tryRange(key.text);
  const country = readCountry(sink, value);
  if (isRangeFault(range)) sink.add(key.place, addressFault(key.text, range));
  return isRangeFault(range) || country === undefined ? [] : [{ range, country, at: siteOf(key.place) }];
}

/** Finds networks that are corrected twice, to different countries. A narrower network inside another is no conflict. */
export function checkCorrections(all: Iterable<Corrections>): Issue[] {
  const known = new Map<string, string>();
  const issues: Issue[] = [];
  for (const { networks, file } of all)
    for (const { range, country, at } of networks) {
      const text = formatRange(range);
      const before = known.get(text);
      if (before !== undefined && before !== country)
        issues.push({ code: 'conflicting-corrections', network: text, country, other: before, file, ...at });
      else known.set(text, country);
    }
  return issues;
}
