import type { AddressColumn, ColumnTable, TextColumn } from '../../column/index.js';
import { numberColumn, type Prepared, textColumn } from '../../engine/index.js';
import { Catalogue, type CatalogueField } from '../catalogue.js';
import type { Breakdowns, Dimension } from '../report.js';
import { ClientTally } from './client-tally.js';
import type { Key } from './counts.js';
import { ANSWER_COUNT, countCoded, ShareTally } from './share-tally.js';

/** More distinct keys than this are counted together, so that memory stays bounded. */
const MOST_KEYS = 200_000;
const TOLD = 200;
const HOUR = 3_600_000;
/** More hours than this, which is ten years, are told together. */
const MOST_HOURS = 87_660;
const MOST_STATUS = 1000;

/** Counts the verdicts of requests by what the requests are. */
export class BreakdownTally {
  readonly #countries = new ShareTally();
  readonly #hosts = new ShareTally(MOST_KEYS);
  readonly #methods = new ShareTally(MOST_KEYS);
  readonly #statuses = new ShareTally();
  readonly #hours = new ShareTally(MOST_HOURS);
  readonly #clients = new ClientTally();
  readonly #categories = new ShareTally();
  readonly #applications = new ShareTally();
  readonly #catalogue: Catalogue;

  readonly #wanted: ReadonlySet<Dimension>;

  /** Counts by the dimensions that are wanted; the others stay empty. */
  constructor(prepared: Prepared, wanted: readonly Dimension[]) {
    this.#catalogue = new Catalogue(prepared);
    this.#wanted = new Set(wanted);
  }

  /** Counts a chunk. `answers` has for each row the place of its verdict, and the columns are as verdicts have them. */
  add(table: ColumnTable, answers: Uint8Array, clients: AddressColumn, countries: TextColumn): void {
    const wanted = this.#wanted;
    if (wanted.has('country')) addTexts(this.#countries, countries, answers);
    if (wanted.has('host')) addTexts(this.#hosts, textColumn(table, 'host'), answers);
    if (wanted.has('method')) addTexts(this.#methods, textColumn(table, 'method'), answers);
    if (wanted.has('client')) this.#clients.addColumn(clients, answers);
    if (wanted.has('status')) this.#addStatuses(numberColumn(table, 'status'), answers);
    if (wanted.has('hour')) this.#addHours(numberColumn(table, 'time'), answers);
    if (!this.#catalogue.isEmpty && (wanted.has('category') || wanted.has('application')))
      this.#addCatalogue(this.#catalogue.rows(table), answers);
  }

  breakdowns(): Breakdowns {
    return {
      country: this.#countries.breakdown(Number.POSITIVE_INFINITY),
      client: this.#clients.breakdown(TOLD),
      host: this.#hosts.breakdown(TOLD),
      category: this.#categories.breakdown(Number.POSITIVE_INFINITY),
      application: this.#applications.breakdown(Number.POSITIVE_INFINITY),
      method: this.#methods.breakdown(TOLD),
      status: this.#statuses.inOrder(),
      hour: this.#hours.inOrder(),
    };
  }

  #addStatuses(statuses: Float64Array | undefined, answers: Uint8Array): void {
    const counts = new Uint32Array((MOST_STATUS + 1) * ANSWER_COUNT);
    for (let row = 0; row < answers.length; row++) {
      const status = statuses ? (statuses[row] as number) : Number.NaN;
      const place = (status >= 0 ? status + 1 : 0) * ANSWER_COUNT + (answers[row] as number);
      counts[place] = (counts[place] as number) + 1;
    }
    this.#statuses.addCounts(counts, (code) => (code === 0 ? null : String(code - 1)));
  }

  /** Requests of an hour mostly stand together, so that a row seldom asks for more than the row before it. */
  #addHours(times: Float64Array | undefined, answers: Uint8Array): void {
    const places = new Map<number, number>();
    const hours: number[] = [];
    let counts = new Uint32Array(ANSWER_COUNT * 256);
    let [hour, place] = [Number.NaN, -1];
    for (let row = 0; row < answers.length; row++) {
      const own = times ? Math.floor((times[row] as number) / HOUR) : Number.NaN;
      if (place < 0 || !Object.is(own, hour)) {
        hour = own;
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
    this.#hours.addCounts(counts, (code) => {
      const own = hours[code] as number;
      return Number.isNaN(own) ? null : new Date(own * HOUR).toISOString();
    });
  }

  #addCatalogue(outcomes: Int32Array, answers: Uint8Array): void {
    const counts = countCoded(outcomes, this.#catalogue.outcomes.length, answers);
    const add = (tally: ShareTally, field: CatalogueField) => {
      for (let outcome = 0; outcome < this.#catalogue.outcomes.length; outcome++)
        for (const name of this.#catalogue.names(outcome, field))
          tally.addCounts(counts.subarray(outcome * ANSWER_COUNT, (outcome + 1) * ANSWER_COUNT), () => name);
    };
    add(this.#categories, 'category');
    add(this.#applications, 'application');
  }
}

function addTexts(tally: ShareTally, column: TextColumn | undefined, answers: Uint8Array): void {
  const entries = column ? (column.bytes?.ends.length ?? column.dictionary.length) : 0;
  const codes = column?.codes ?? new Uint8Array(answers.length);
  const keyOf = (code: number): Key => (code === 0 ? null : (column?.dictionary[code - 1] as string));
  tally.addCounts(countCoded(codes, entries + 1, answers), keyOf);
}
