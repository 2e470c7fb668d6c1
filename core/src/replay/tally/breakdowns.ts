import {
  addressCodes,
  type ColumnTable,
  numberAt,
  type RowKinds,
  type TextColumn,
  textCodes,
} from '../../column/index.js';
import {
  type ChunkFacts,
  countriesIn,
  numberColumn,
  type Prepared,
  type RunMemory,
  textColumn,
} from '../../engine/index.js';
import type { Kernel } from '../../kernel/index.js';
import { Catalogue, type CatalogueField } from '../catalogue.js';
import type { ChunkParts } from '../chunk-parts.js';
import type { Breakdowns, Dimension } from '../report.js';
import type { ChunkVerdicts } from '../verdict-writer.js';
import { type ClientCounts, ClientTally, countClients } from './client-tally.js';
import type { Key } from './counts.js';
import { ANSWER_COUNT, countCoded, ShareTally, UNCOVERED_ANSWER } from './share-tally.js';

/** More distinct keys than this are counted together, so that memory stays bounded. */
const MOST_KEYS = 200_000;
const LISTED = 200;
const HOUR = 3_600_000;
/** Countries are counted by client when the rows are at least this many times as many. */
const FEW = 6;
/** More hours than this, which is ten years, are counted together. */
const MOST_HOURS = 87_660;
const MOST_STATUS = 1000;

/** Verdicts by key: for each key its counts by answer, one key behind the other. */
export interface KeyCounts {
  readonly keys: readonly Key[];
  readonly counts: Uint32Array;
}

type KeyDimension = Exclude<Dimension, 'client'>;

/** The verdicts of a chunk by what its requests are. Plain data; dimensions that are not wanted are left out. */
export interface BreakdownCounts {
  readonly byKey: Readonly<Partial<Record<KeyDimension, KeyCounts>>>;
  readonly clients: ClientCounts | undefined;
}

/** Counts the verdicts of chunks, one by one, by what their requests are. */
export class BreakdownCounter {
  readonly #catalogue: Catalogue;
  readonly #wanted: ReadonlySet<Dimension>;

  constructor(prepared: Prepared, wanted: readonly Dimension[], memory?: RunMemory) {
    this.#catalogue = new Catalogue(prepared, memory);
    this.#wanted = new Set(wanted);
  }

  /** `destinations`: the countries of the rows' destinations, where some are known. */
  count(chunk: ChunkParts, verdicts: ChunkVerdicts, destinations: TextColumn | undefined): BreakdownCounts {
    const { table, kernel } = chunk;
    const { answers, clients, countries, countryOfClient } = verdicts;
    const ofKinds = new KindCounts(chunk, answers);
    const byKey: Partial<Record<KeyDimension, KeyCounts>> = {};
    const wanted = (dimension: Dimension) => this.#wanted.has(dimension);
    const ofClients = wanted('client') ? countCoded(kernel, clients.codes, addressCodes(clients), answers) : undefined;
    if (wanted('country'))
      byKey.country =
        ofClients && addressCodes(clients) * FEW < table.rows
          ? countCountries(countries, countryOfClient, ofClients)
          : countTexts(kernel, countries, answers);
    if (wanted('destination-country'))
      byKey['destination-country'] = countEach(countTexts(kernel, destinations, answers));
    if (wanted('host')) byKey.host = ofKinds.texts('host');
    if (wanted('method')) byKey.method = ofKinds.texts('method');
    if (wanted('status')) byKey.status = ofKinds.statuses();
    if (wanted('hour')) byKey.hour = countHours(numberColumn(table, 'time'), answers);
    if (!this.#catalogue.isEmpty && (wanted('category') || wanted('application')))
      Object.assign(byKey, this.#countCatalogue(chunk, answers));
    return { byKey, clients: ofClients && countClients(clients, ofClients) };
  }

  #countCatalogue(chunk: ChunkParts, answers: Uint8Array): Record<CatalogueField, KeyCounts> {
    const outcomes = this.#catalogue.rows(chunk);
    const { length } = this.#catalogue.outcomes;
    const counts = countCoded(chunk.kernel, outcomes, length, answers);
    const of = (field: CatalogueField): KeyCounts => {
      const tally = new ShareTally();
      for (let outcome = 0; outcome < length; outcome++)
        for (const name of this.#catalogue.names(outcome, field))
          tally.addCounts(counts.subarray(outcome * ANSWER_COUNT, (outcome + 1) * ANSWER_COUNT), () => name);
      return tally.keyCounts();
    };
    return { category: of('category'), application: of('application') };
  }
}

/** Sums up what chunks were counted as. */
export class BreakdownTally {
  readonly #tallies: Readonly<Record<KeyDimension, ShareTally>> = {
    country: new ShareTally(),
    'destination-country': new ShareTally(),
    host: new ShareTally(MOST_KEYS),
    category: new ShareTally(),
    application: new ShareTally(),
    method: new ShareTally(MOST_KEYS),
    status: new ShareTally(),
    hour: new ShareTally(MOST_HOURS),
  };
  readonly #clients = new ClientTally();

  add({ byKey, clients }: BreakdownCounts): void {
    for (const [dimension, { keys, counts }] of Object.entries(byKey))
      this.#tallies[dimension as KeyDimension].addCounts(counts, (at) => keys[at] as Key);
    if (clients) this.#clients.add(clients);
  }

  breakdowns(): Breakdowns {
    const { country, host, category, application, method, status, hour } = this.#tallies;
    return {
      country: country.breakdown(Number.POSITIVE_INFINITY),
      client: this.#clients.breakdown(LISTED),
      'destination-country': this.#tallies['destination-country'].breakdown(Number.POSITIVE_INFINITY),
      host: host.breakdown(LISTED),
      category: category.breakdown(Number.POSITIVE_INFINITY),
      application: application.breakdown(Number.POSITIVE_INFINITY),
      method: method.breakdown(LISTED),
      status: status.inOrder(),
      hour: hour.inOrder(),
    };
  }
}

/** A client has one country, wherever it asks; requests that no policy covers are counted under none. */
function countCountries(countries: TextColumn, ofClients: Uint32Array, counts: Uint32Array): KeyCounts {
  const sums = new Uint32Array(textCodes(countries) * ANSWER_COUNT);
  for (let client = 0; client < ofClients.length; client++) {
    const country = (ofClients[client] as number) * ANSWER_COUNT;
    for (let answer = 0; answer < ANSWER_COUNT; answer++) {
      const place = answer === UNCOVERED_ANSWER ? answer : country + answer;
      sums[place] = (sums[place] as number) + (counts[client * ANSWER_COUNT + answer] as number);
    }
  }
  return textCounts(countries, sums);
}

function countTexts(kernel: Kernel, column: TextColumn | undefined, answers: Uint8Array): KeyCounts {
  const codes = column?.codes ?? new Uint32Array(answers.length);
  return textCounts(column, countCoded(kernel, codes, column ? textCodes(column) : 1, answers));
}

/** A request that goes to several countries counts under each. */
function countEach(counted: KeyCounts): KeyCounts {
  if (!counted.keys.some((key) => key !== null && countriesIn(key).length > 1)) return counted;
  const tally = new ShareTally();
  counted.keys.forEach((key, at) => {
    const own = counted.counts.subarray(at * ANSWER_COUNT, (at + 1) * ANSWER_COUNT);
    for (const each of key === null ? [null] : countriesIn(key)) tally.addCounts(own, () => each);
  });
  return tally.keyCounts();
}

const textCounts = (column: TextColumn | undefined, counts: Uint32Array): KeyCounts =>
  withKeys(counts, (code) => (code === 0 ? null : (column?.dictionary[code - 1] as string)));

const statusCounts = (counts: Uint32Array): KeyCounts =>
  withKeys(counts, (code) => (code === 0 ? null : String(code - 1)));

/** The code of a status; 0 where there is none. */
const statusCode = (status: number): number => (status >= 0 ? status + 1 : 0);

/** Counts by the columns that define kinds: each row is counted for its kind, then each kind for its values. */
class KindCounts {
  readonly #table: ColumnTable;
  readonly #kinds: RowKinds;
  readonly #kernel: Kernel;
  readonly #answers: Uint8Array;
  #counts: Uint32Array | undefined;

  constructor({ table, kinds, kernel }: ChunkFacts, answers: Uint8Array) {
    this.#table = table;
    this.#kinds = kinds;
    this.#kernel = kernel;
    this.#answers = answers;
  }

  texts(name: string): KeyCounts {
    const column = textColumn(this.#table, name);
    if (column === undefined || !this.#kinds.holds(name)) return countTexts(this.#kernel, column, this.#answers);
    const { codes } = column;
    return textCounts(
      column,
      this.#summed(textCodes(column), (row) => codes[row] as number),
    );
  }

  statuses(): KeyCounts {
    const column = this.#table.columns.get('status');
    if (column?.type !== 'number') return statusCounts(this.#summed(1, () => 0));
    if (!this.#kinds.holds('status')) return statusCounts(countStatuses(column.values, this.#answers));
    return statusCounts(this.#summed(MOST_STATUS + 1, (row) => statusCode(numberAt(column, row))));
  }

  /** The counts of the kinds, by the code that the rows of each have. */
  #summed(codeCount: number, codeOf: (row: number) => number): Uint32Array {
    const { codes, examples } = this.#kinds;
    this.#counts ??= countCoded(this.#kernel, codes, examples.length, this.#answers);
    const sums = new Uint32Array(codeCount * ANSWER_COUNT);
    for (let kind = 0; kind < examples.length; kind++) {
      const code = codeOf(examples[kind] as number);
      for (let answer = 0; answer < ANSWER_COUNT; answer++) {
        const place = code * ANSWER_COUNT + answer;
        sums[place] = (sums[place] as number) + (this.#counts[kind * ANSWER_COUNT + answer] as number);
      }
    }
    return sums;
  }
}

function countStatuses(statuses: Float64Array, answers: Uint8Array): Uint32Array {
  const counts = new Uint32Array((MOST_STATUS + 1) * ANSWER_COUNT);
  for (let row = 0; row < answers.length; row++) {
    const place = statusCode(statuses[row] as number) * ANSWER_COUNT + (answers[row] as number);
    counts[place] = (counts[place] as number) + 1;
  }
  return counts;
}

/** Requests of an hour are mostly adjacent, so that a row seldom needs more than the row before it. */
function countHours(times: Float64Array | undefined, answers: Uint8Array): KeyCounts {
  const places = new Map<number, number>();
  const hours: number[] = [];
  let counts = new Uint32Array(ANSWER_COUNT * 256);
  let from = Number.NaN;
  let place = -1;
  for (let row = 0; row < answers.length; row++) {
    const time = times ? (times[row] as number) : Number.NaN;
    if (!(time >= from && time < from + HOUR)) {
      const own = Math.floor(time / HOUR);
      from = own * HOUR;
      place = places.get(own) ?? hours.push(own) - 1;
      places.set(own, place);
      if ((place + 1) * ANSWER_COUNT > counts.length) {
        const larger = new Uint32Array(counts.length * 2);
        larger.set(counts);
        counts = larger;
      }
    }
    const at = place * ANSWER_COUNT + (answers[row] as number);
    counts[at] = (counts[at] as number) + 1;
  }
  return withKeys(counts, (code) => {
    const own = hours[code] as number;
    return Number.isNaN(own) ? null : new Date(own * HOUR).toISOString();
  });
}

/** The counts of codes that occurred, with their keys. */
function withKeys(counts: Uint32Array, keyOf: (code: number) => Key): KeyCounts {
  const keys: Key[] = [];
  const kept = new Uint32Array(counts.length);
  for (let code = 0, from = 0; from < counts.length; code++, from += ANSWER_COUNT) {
    let any = 0;
    for (let answer = 0; answer < ANSWER_COUNT; answer++) any |= counts[from + answer] as number;
    if (any === 0) continue;
    kept.set(counts.subarray(from, from + ANSWER_COUNT), keys.length * ANSWER_COUNT);
    keys.push(keyOf(code));
  }
  return { keys, counts: kept.slice(0, keys.length * ANSWER_COUNT) };
}
