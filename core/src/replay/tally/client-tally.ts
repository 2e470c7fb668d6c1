import { formatAddress, type Words } from '../../address/index.js';
import { type AddressColumn, WordTable } from '../../column/index.js';
import type { Breakdown, Share } from '../report.js';
import { compareKeys } from './counts.js';
import { ANSWER_COUNT, roomFor, shareOf } from './share-tally.js';
import { type CountRun, SortedCounts } from './sorted-counts.js';

/** More counts of IPv4 clients than this are cut to the half with most requests, so that memory stays bounded. */
const MOST_COUNTS = 4_000_000;
/** More distinct IPv6 clients than this are counted together. */
const MOST_SIX = 500_000;
/** An address and an answer make one number. */
const ANSWERS = 8;

/** The verdicts of a chunk by client. Plain data. */
export interface ClientCounts {
  /** Under an address and an answer as one number, in the order of the addresses. */
  readonly four: CountRun;
  /** Four words an address, and behind each other the counts of each by answer. */
  readonly six: Uint32Array;
  readonly sixCounts: Uint32Array;
  readonly unseen: Uint32Array;
}

/** The counts of a column's clients, given those of its codes by answer. */
export function countClients(column: AddressColumn, counts: Uint32Array): ClientCounts {
  const { four } = column;
  return { four: runOf(four, counts), ...sixOf(column, counts), unseen: counts.slice(0, ANSWER_COUNT) };
}

/** The IPv6 addresses that rows have; a dictionary may have more than those. */
function sixOf({ four, six }: AddressColumn, counts: Uint32Array): Pick<ClientCounts, 'six' | 'sixCounts'> {
  const own = counts.subarray((four.length + 1) * ANSWER_COUNT);
  const [words, kept] = [new Uint32Array(six.length), new Uint32Array(own.length)];
  let count = 0;
  for (let at = 0; at * 4 < six.length; at++) {
    const each = own.subarray(at * ANSWER_COUNT, (at + 1) * ANSWER_COUNT);
    if (each.every((times) => times === 0)) continue;
    words.set(six.subarray(at * 4, at * 4 + 4), count * 4);
    kept.set(each, count++ * ANSWER_COUNT);
  }
  return { six: words.slice(0, count * 4), sixCounts: kept.slice(0, count * ANSWER_COUNT) };
}

/** Counts verdicts by client. Of IPv4, of which most are, the addresses stay numbers. */
export class ClientTally {
  readonly #four = new SortedCounts();
  readonly #six = new WordTable(4);
  #sixCounts = new Float64Array(ANSWER_COUNT * 64);
  readonly #unseen = new Float64Array(ANSWER_COUNT);
  readonly #mostCounts: number;
  #beyond = 0;

  constructor(mostCounts = MOST_COUNTS) {
    this.#mostCounts = mostCounts;
  }

  add({ four, six, sixCounts, unseen }: ClientCounts): void {
    this.#four.add(four);
    if (this.#four.size > this.#mostCounts) this.#cut();
    addTo(this.#unseen, 0, unseen, 0);
    for (let at = 0, code = 0; at < six.length; at += 4, code++) {
      if (this.#six.count >= MOST_SIX) {
        for (let answer = 0; answer < ANSWER_COUNT; answer++)
          this.#beyond += sixCounts[code * ANSWER_COUNT + answer] as number;
        continue;
      }
      const number = this.#six.number(six, at);
      this.#sixCounts = roomFor(this.#sixCounts, number);
      addTo(this.#sixCounts, number, sixCounts, code);
    }
  }

  /** The clients with most requests, and how many more there are. */
  breakdown(shown: number): Breakdown {
    const run = this.#four.sum();
    const four = sumsByAddress(run);
    const found = [...this.#mostFour(run, four, shown), ...this.#mostSix(shown)];
    const unseen = shareOf(null, this.#unseen, 0);
    if (unseen.requests > 0) found.push(unseen);
    found.sort((a, b) => b.requests - a.requests || compareKeys(a.key, b.key));
    const distinct = four.starts.length + this.#six.count + (unseen.requests > 0 ? 1 : 0);
    return { rows: found.slice(0, shown), more: Math.max(0, distinct - shown), beyond: this.#beyond };
  }

  /** Texts are made of few: of those that may be among the most. */
  #mostFour({ keys, counts }: CountRun, { starts, requests }: AddressSums, shown: number): Share[] {
    const least = atLeast(requests, shown);
    return starts.flatMap((start, index) => {
      if ((requests[index] as number) < least) return [];
      const own = new Float64Array(ANSWER_COUNT);
      const end = starts[index + 1] ?? keys.length;
      for (let at = start; at < end; at++) own[(keys[at] as number) % ANSWERS] = counts[at] as number;
      return [shareOf(formatAddress({ family: 4, value: addressOf(keys[start] as number) }), own, 0)];
    });
  }

  #mostSix(shown: number): Share[] {
    const requests = Float64Array.from({ length: this.#six.count }, (_, number) =>
      this.#sixCounts
        .subarray(number * ANSWER_COUNT, (number + 1) * ANSWER_COUNT)
        .reduce((sum, count) => sum + count, 0),
    );
    const least = atLeast(requests, shown);
    const words = this.#six.rows;
    return [...requests.keys()].flatMap((number) => {
      if ((requests[number] as number) < least) return [];
      const own = [...words.subarray(number * 4, number * 4 + 4)] as unknown as Words;
      return [shareOf(formatAddress({ family: 6, words: own }), this.#sixCounts, number)];
    });
  }

  /** Keeps the highest half of the counts; of equal ones as many as there is room for. */
  #cut(): void {
    const run = this.#four.sum();
    const most = Math.min(run.counts.length, this.#mostCounts >> 1);
    const least = atLeast(run.counts, most);
    let alike = most - run.counts.reduce((above, count) => above + (count > least ? 1 : 0), 0);
    const [keys, counts] = [new Float64Array(most), new Float64Array(most)];
    let kept = 0;
    for (let at = 0; at < run.counts.length; at++) {
      const count = run.counts[at] as number;
      if (count < least || (count === least && alike-- <= 0)) {
        this.#beyond += count;
        continue;
      }
      keys[kept] = run.keys[at] as number;
      counts[kept++] = count;
    }
    this.#four.replace({ keys, counts });
  }
}

/** Adds the counts of a code to those of a number. */
function addTo(to: Float64Array, number: number, counts: Uint32Array, code: number): void {
  for (let answer = 0; answer < ANSWER_COUNT; answer++) {
    const place = number * ANSWER_COUNT + answer;
    to[place] = (to[place] as number) + (counts[code * ANSWER_COUNT + answer] as number);
  }
}

const addressOf = (key: number): number => Math.floor(key / ANSWERS);

/** The counts of a column's IPv4 addresses, which a column has in order. */
function runOf(four: Uint32Array, counts: Uint32Array): CountRun {
  let size = 0;
  for (let at = ANSWER_COUNT; at < (four.length + 1) * ANSWER_COUNT; at++) if (counts[at] !== 0) size++;
  const run = { keys: new Float64Array(size), counts: new Float64Array(size) };
  let at = 0;
  for (let index = 0, from = ANSWER_COUNT; index < four.length; index++)
    for (let answer = 0; answer < ANSWER_COUNT; answer++, from++) {
      if (counts[from] === 0) continue;
      run.keys[at] = (four[index] as number) * ANSWERS + answer;
      run.counts[at++] = counts[from] as number;
    }
  return run;
}

/** Where the counts of each address start, and its requests. */
interface AddressSums {
  readonly starts: readonly number[];
  readonly requests: readonly number[];
}

function sumsByAddress({ keys, counts }: CountRun): AddressSums {
  const starts: number[] = [];
  const requests: number[] = [];
  let last = -1;
  for (let at = 0; at < keys.length; at++) {
    const address = addressOf(keys[at] as number);
    if (address !== last) {
      starts.push(at);
      requests.push(0);
      last = address;
    }
    requests[requests.length - 1] = (requests.at(-1) as number) + (counts[at] as number);
  }
  return { starts, requests };
}

/** The count that this many of them reach. */
function atLeast(counts: ArrayLike<number>, many: number): number {
  const sorted = Float64Array.from(counts).sort();
  return sorted[Math.max(0, sorted.length - many)] ?? 0;
}
