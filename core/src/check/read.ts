import { tryHost } from '../domain/index.js';
import { suggest } from '../issue/index.js';
import type { Reference } from '../list/index.js';
import { VERDICTS } from '../policy/index.js';
import {
  isMapPlace,
  isNothing,
  type MapEntry,
  type Place,
  parseTime,
  readName,
  readNote,
  readReference,
  type Sink,
  siteOf,
  type TextDocument,
} from '../text/index.js';
import { normalPath, splitTarget } from '../url/index.js';
import type { Cell, Check, Destination } from './check.js';

const KEYS = ['check', 'note', 'policy', 'at', 'destinations', 'expect'];
const ANSWERS = [...VERDICTS, 'uncovered'] as const;
const URL_FORM = /^([a-z][a-z0-9+.-]{0,31}):\/\/(\[[^\]]*\]|[^/?#:]*)(?::(\d{1,5}))?([/?#].*)?$/i;

/** Reads a `check` document; undefined when it has no readable name. */
export function readCheck({ root, sink }: TextDocument): Check | undefined {
  const entries = sink.entries(root, KEYS);
  const nameEntry = entries?.get('check');
  if (entries === undefined || nameEntry === undefined) return undefined;
  const name = readName(sink, nameEntry.value)?.text;
  for (const key of ['destinations', 'expect']) if (!entries.has(key)) sink.missingKey(root, nameEntry.key.place, key);
  const destinations = readDestinations(sink, entries.get('destinations')?.value);
  const check = {
    type: 'check' as const,
    file: sink.file,
    note: readNote(sink, entries),
    policy: readReference(sink, entries.get('policy')?.value),
    at: readAt(sink, entries.get('at')),
    destinations,
    cells: readCells(sink, entries.get('expect')?.value, [...destinations.keys()]),
  };
  return name === undefined ? undefined : { ...check, name };
}

function readAt(sink: Sink, entry: MapEntry | undefined): number | undefined {
  const word = entry && sink.word(entry.value);
  const time = word && parseTime(word.text);
  if (word && time === undefined) sink.add(word.place, { code: 'bad-time', text: word.text });
  return time;
}

/** A map of names and URLs, or maps with `url` and `method`; `tunnel: host:port` shows no path. */
function readDestinations(sink: Sink, place: Place | undefined): Map<string, Destination> {
  const found = new Map<string, Destination>();
  const entries = place && !isNothing(place) ? sink.entries(place) : undefined;
  for (const { key, value } of entries?.values() ?? []) {
    readName(sink, key.place);
    const destination = readDestination(sink, value);
    if (destination) found.set(key.text, destination);
  }
  return found;
}

function readDestination(sink: Sink, place: Place): Destination | undefined {
  if (!isMapPlace(place)) return readUrl(sink, place, 'GET');
  const entries = sink.entries(place, ['url', 'method', 'tunnel']);
  const tunnel = entries?.get('tunnel');
  if (tunnel) return readTunnel(sink, tunnel.value);
  const url = entries?.get('url');
  if (entries && !url) sink.missingKey(place, place, 'url');
  const method = entries?.get('method');
  const word = method && sink.word(method.value);
  if (word && !/^[!#$%&'*+.^_`|~0-9A-Za-z-]{1,32}$/.test(word.text))
    sink.add(word.place, { code: 'bad-method', text: word.text });
  return url && readUrl(sink, url.value, word?.text.toUpperCase() ?? 'GET');
}

function readUrl(sink: Sink, place: Place, method: string): Destination | undefined {
  const word = sink.word(place);
  if (word === undefined) return undefined;
  const found = URL_FORM.exec(word.text);
  const host = found ? tryHost(found[2] as string) : undefined;
  if (!found || !host || !('host' in host)) {
    sink.add(place, { code: 'bad-destination', text: word.text });
    return undefined;
  }
  const { path, query } = splitTarget(found[4]?.startsWith('/') ? found[4] : `/${found[4] ?? ''}`);
  const port = found[3] === undefined ? undefined : Number(found[3]);
  const scheme = (found[1] as string).toLowerCase();
  return { method, scheme, host: host.host, port, path: normalPath(path), query: query ?? '' };
}

function readTunnel(sink: Sink, place: Place): Destination | undefined {
  const word = sink.word(place);
  const found = /^(\[[^\]]*\]|[^:]*):(\d{1,5})$/.exec(word?.text ?? '');
  const host = found ? tryHost(found[1] as string) : undefined;
  if (word && (!found || !host || !('host' in host))) sink.add(place, { code: 'bad-destination', text: word.text });
  if (!found || !host || !('host' in host)) return undefined;
  const nothing = { scheme: undefined, path: undefined, query: undefined };
  return { method: 'CONNECT', host: host.host, port: Number(found[2]), ...nothing };
}

/** A map of probes, each a map of destinations and verdicts. */
function readCells(sink: Sink, place: Place | undefined, destinations: readonly string[]): Cell[] {
  const rows = place && !isNothing(place) ? sink.entries(place) : undefined;
  return [...(rows?.values() ?? [])].flatMap(({ key, value }) => {
    const probe = { name: key.text, at: siteOf(key.place) };
    return [...(sink.entries(value)?.values() ?? [])].flatMap((entry) => readCell(sink, probe, entry, destinations));
  });
}

function readCell(sink: Sink, probe: Reference, { key, value }: MapEntry, destinations: readonly string[]): Cell[] {
  if (!destinations.includes(key.text)) {
    const suggestion = suggest(key.text, destinations);
    sink.add(key.place, { code: 'unknown-value', text: key.text, known: destinations, suggestion });
  }
  const entries = isMapPlace(value) ? sink.entries(value, ['verdict', 'rule']) : undefined;
  const verdictPlace = entries ? entries.get('verdict')?.value : value;
  if (entries && !verdictPlace) sink.missingKey(value, value, 'verdict', ANSWERS);
  const verdict = verdictPlace && sink.choice(verdictPlace, ANSWERS);
  const rule = readReference(sink, entries?.get('rule')?.value)?.name;
  return verdict === undefined ? [] : [{ probe, destination: key.text, verdict, rule, at: siteOf(value) }];
}
