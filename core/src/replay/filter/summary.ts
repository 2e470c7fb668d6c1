import { type Address, parseAddress } from '../../address/index.js';
import { bloomMayHold, bloomOf, type ColumnTable } from '../../column/index.js';
import { patternMatches, tryDomainPattern } from '../../domain/index.js';
import { countriesIn, numberColumn, textColumn } from '../../engine/index.js';
import { isPathFault, tryPathPattern } from '../../url/index.js';
import { parseOutcome } from '../outcome-text.js';
import type { Slot } from '../slot.js';
import { outcomeTest } from './outcomes.js';
import type { RequestFilter } from './request-filter.js';
import { UNSEEN } from './rows.js';

/** A summary leaves out a field with more distinct values than this. */
const MOST_VALUES = 500;

/** The distinct values of a column of a chunk, null for one that is not seen; null as a whole where they are too many. */
type Values = readonly (string | null)[] | null;

/** A zone map of a chunk of a log, so that filters skip chunks without a match. */
export interface LogSummary {
  readonly hosts: Values;
  readonly methods: Values;
  readonly statuses: readonly (number | null)[] | null;
}

/** The same for the outcomes of a chunk's requests. The clients are in Bloom filters, by family. */
export interface VerdictSummary {
  readonly outcomes: Values;
  readonly countries: Values;
  /** Not kept by replays before destinations had a country. */
  readonly destinationCountries?: Values;
}

export interface ClientBlooms {
  readonly four: Uint8Array;
  readonly six: Uint8Array;
}

/** The zone map of a chunk of a log: its hosts, methods and statuses. */
export function summariseLog(table: ColumnTable): LogSummary {
  const statuses = new Set<number | null>();
  for (const status of numberColumn(table, 'status') ?? [Number.NaN])
    statuses.add(Number.isNaN(status) ? null : status);
  return {
    hosts: valuesOf(table, 'host'),
    methods: valuesOf(table, 'method'),
    statuses: statuses.size > MOST_VALUES ? null : [...statuses],
  };
}

/** A Bloom filter of the paths of a chunk of a log. */
export function pathBloom(table: ColumnTable): Uint8Array {
  const column = textColumn(table, 'path');
  const dictionary = column?.dictionary ?? [];
  const words = new Uint32Array(dictionary.length * 2);
  dictionary.forEach((path, at) => {
    words.set(wordsOf(path), at * 2);
  });
  return bloomOf(words, 2);
}

/** Whether the one path that the filter selects may be in the chunk; patterns always may. */
export function pathsMayHold(paths: Uint8Array, { path }: RequestFilter): boolean {
  const only = path === undefined ? undefined : onlyPath(path);
  return only === undefined || bloomMayHold(paths, wordsOf(only));
}

/** The path that a filter selects, when it is a single one. */
export function onlyPath(wanted: string): string | undefined {
  if (wanted === UNSEEN) return undefined;
  const pattern = tryPathPattern(wanted);
  return !isPathFault(pattern) && pattern.type === 'exact' ? pattern.path : undefined;
}

/** Words are stored in filters, so that where they begin never changes. */
const START = 0x811c9dc5 | 0;

/** Two words that hash a text. */
function wordsOf(text: string): [number, number] {
  let [one, two] = [START, ~START];
  for (let at = 0; at < text.length; at++) {
    const code = text.charCodeAt(at);
    one = Math.imul(one ^ code, 0x01000193);
    two = Math.imul(two ^ code, 0x85ebca6b);
  }
  return [one >>> 0, two >>> 0];
}

/** The zone map of a chunk of verdicts: its outcomes and countries. */
export const summariseVerdicts = (verdicts: ColumnTable): VerdictSummary => ({
  outcomes: valuesOf(verdicts, 'outcome'),
  countries: valuesOf(verdicts, 'country'),
  destinationCountries: valuesOf(verdicts, 'destination-country'),
});

/** Bloom filters of the clients of a chunk of verdicts, one a family. */
export function clientBlooms(verdicts: ColumnTable): ClientBlooms {
  const clients = verdicts.columns.get('client');
  if (clients?.type !== 'address') return { four: new Uint8Array(8), six: new Uint8Array(8) };
  return { four: bloomOf(clients.four, 1), six: bloomOf(clients.six, 4) };
}

/** Whether a chunk of such requests may have some that the filter selects. */
export function logMayHold({ hosts, methods, statuses }: LogSummary, filter: RequestFilter): boolean {
  return (
    mayHold(hosts, filter.host, hostTest) &&
    mayHold(methods, filter.method, (wanted) => (method) => method === wanted.toUpperCase()) &&
    (statuses === null || filter.status === undefined || statuses.some(statusTest(filter.status)))
  );
}

/** Whether a chunk with such outcomes may have some that the filter selects. */
export function verdictsMayHold(
  { outcomes, countries, destinationCountries = null }: VerdictSummary,
  slots: readonly Slot[],
  filter: RequestFilter,
): boolean {
  const isCountry = (wanted: string) => (country: string) => country === wanted;
  if (!mayHold(countries, filter.country, isCountry)) return false;
  const isAmong = (wanted: string) => (all: string) => countriesIn(all).includes(wanted);
  if (!mayHold(destinationCountries, filter.destinationCountry, isAmong)) return false;
  const wanted = outcomeTest(slots, filter);
  return outcomes === null || outcomes.some((text) => wanted(text === null ? undefined : parseOutcome(text)));
}

/** Whether the client that the filter selects may be in the chunk; networks and ranges always may. */
export function clientsMayHold({ four, six }: ClientBlooms, { client }: RequestFilter): boolean {
  const address: Address | undefined = client === undefined ? undefined : parseAddress(client);
  if (address === undefined) return true;
  return address.family === 4 ? bloomMayHold(four, [address.value]) : bloomMayHold(six, address.words);
}

function valuesOf(table: ColumnTable, name: string): Values {
  const column = textColumn(table, name);
  if (column === undefined) return [null];
  const entries = column.bytes?.ends.length ?? column.dictionary.length;
  if (entries > MOST_VALUES) return null;
  return column.codes.includes(0) ? [...column.dictionary, null] : column.dictionary;
}

function mayHold(values: Values, wanted: string | undefined, test: (wanted: string) => (value: string) => boolean) {
  if (values === null || wanted === undefined) return true;
  if (wanted === UNSEEN) return values.includes(null);
  const holds = test(wanted);
  return values.some((value) => value !== null && holds(value));
}

function hostTest(wanted: string): (host: string) => boolean {
  const pattern = tryDomainPattern(wanted);
  return typeof pattern === 'string' || parseAddress(wanted)
    ? (host) => host === wanted
    : (host) => patternMatches(pattern, host);
}

function statusTest(wanted: string): (status: number | null) => boolean {
  if (wanted === UNSEEN) return (status) => status === null;
  const first = Number(wanted.replace('xx', '00'));
  const last = wanted.endsWith('xx') ? first + 99 : first;
  return (status) => status !== null && status >= first && status <= last;
}
