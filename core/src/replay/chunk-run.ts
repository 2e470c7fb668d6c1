import { type Column, type ColumnTable, rowKindsIn, type TextColumn } from '../column/index.js';
import { type Clients, NOT_KNOWN, numberColumn, PENDING, type Prepared, textColumn } from '../engine/index.js';
import type { ClientTrust } from '../request/index.js';
import type { ChunkParts } from './chunk-parts.js';
import type { JoinedClients } from './clients.js';
import { destinationCountries } from './destination-countries.js';
import type { FinishedChunk } from './finished-chunk.js';
import type { ResolvedRows } from './pending/limit-operator.js';
import type { Examples, PendingRows } from './pending/pending-rows.js';
import type { PolicyRun } from './policy-run.js';
import type { Routes } from './routing.js';
import type { BreakdownCounter, BreakdownCounts } from './tally/breakdowns.js';
import type { ChunkCounts } from './tally/chunk-counts.js';
import { doubtsOf } from './tally/forwarders.js';
import { countOutcomes, type OutcomeCounts } from './tally/policy-tally.js';
import { type HostRequests, unresolvedIn } from './tally/unresolved.js';
import { type ChunkVerdicts, writeVerdicts } from './verdict-writer.js';

/** The outcomes of one policy for its rows of a chunk. */
interface Part {
  /** The policy's place among those of the run. */
  readonly number: number;
  readonly policy: PolicyRun;
  readonly rows: Uint32Array;
  readonly clients: Clients;
  readonly outcomes: Int32Array;
  /** The places of the rows that wait for limits. */
  readonly pending: Int32Array;
}

/** One chunk of a run: judged first, then, when no row is pending, counted and written. */
export class ChunkRun {
  readonly #chunk: ChunkParts;
  readonly #policies: readonly PolicyRun[];
  readonly #prepared: Prepared;
  readonly #parts: Part[] = [];
  readonly #uncovered: Uint32Array;
  /** The rows of each policy. */
  readonly #byPolicy: readonly Uint32Array[];
  readonly #clients: JoinedClients;

  constructor(chunk: ChunkParts, policies: readonly PolicyRun[], prepared: Prepared, { uncovered, byPolicy }: Routes) {
    this.#chunk = chunk;
    this.#policies = policies;
    this.#prepared = prepared;
    this.#uncovered = uncovered;
    this.#byPolicy = byPolicy;
    const judging = policies.filter((_, number) => (byPolicy[number] as Uint32Array).length > 0);
    const names = judging.map(({ policy }) => policy.name);
    this.#clients = chunk.clients.joined(names, uncovered.length > 0);
  }

  get #table(): ColumnTable {
    return this.#chunk.table;
  }

  /** Judges all rows. Answers those that wait for limits. */
  judge(examples: readonly Examples[]): PendingRows[] {
    const pending = this.#byPolicy.map((rows, number) =>
      rows.length > 0 ? this.#judgePart(number, rows, examples[number] as Examples) : undefined,
    );
    return pending.filter((rows) => rows !== undefined);
  }

  /** Takes the outcomes of a policy's pending rows. */
  resolve({ policy, outcomes, codes }: ResolvedRows): void {
    const part = this.#parts.find(({ number }) => number === policy) as Part;
    const numbers = outcomes.map((outcome) => part.policy.judge.adopt(outcome));
    const { pending, outcomes: ofRows } = part;
    for (let at = 0; at < pending.length; at++) ofRows[pending[at] as number] = numbers[codes[at] as number] as number;
  }

  /** Counts the chunk for the judge of the number, and answers its verdicts. */
  finish(counter: BreakdownCounter, judge: number): Omit<FinishedChunk, 'number'> {
    for (const part of this.#parts) this.#applyMet(part);
    const { rows } = this.#table;
    const times = numberColumn(this.#table, 'time') ?? new Float64Array(rows).fill(Number.NaN);
    const counted = this.#parts.map(({ policy, outcomes, rows: own }) =>
      countOutcomes(this.#chunk.kernel, outcomes, policy.judge.outcomes.length, own, times),
    );
    const verdicts = this.#written(counted.map(({ outcomes }) => outcomes));
    const destinations = this.#destinationCountries();
    const columns = new Map<string, Column>([
      ['outcome', verdicts.outcomes],
      ['client', verdicts.clients],
      ['country', verdicts.countries],
    ]);
    if (destinations) columns.set('destination-country', destinations);
    const { logRows } = this.#chunk;
    if (logRows) columns.set('row', { type: 'number', values: Float64Array.from(logRows) });
    const breakdowns = counter.count(this.#chunk, verdicts, destinations);
    const counts = this.#count(counted, times, breakdowns);
    return { verdicts: { rows, columns }, counts: { judge, ...counts } };
  }

  #judgePart(number: number, rows: Uint32Array, examples: Examples): PendingRows | undefined {
    const policy = this.#policies[number] as PolicyRun;
    const [table, prepared] = [this.#table, this.#prepared];
    const clients = this.#clients.of(policy.policy.name, rows);
    const kinds = rows.length === table.rows ? this.#chunk.kinds : rowKindsIn(this.#chunk.kinds, rows);
    const { outcomes, classes, mayPend } = policy.judge.rows({ ...this.#chunk, rows, clients, kinds });
    const pending = mayPend ? placesOf(outcomes, PENDING) : NONE;
    this.#parts.push({ number, policy, rows, clients, outcomes, pending });
    if (pending.length === 0) return undefined;
    const { destinations } = this.#chunk;
    const block = { table, rows, clients, destinations, policy: policy.policy, prepared };
    return examples.pendingRows(policy, number, block, classes, pending);
  }

  /** Clients that have met what a rule asks of them are allowed by it. */
  #applyMet({ policy, rows, outcomes }: Part): void {
    const met = textColumn(this.#table, 'met');
    if (met === undefined) return;
    const rules = met.dictionary.map((text) => text.split('\n'));
    rows.forEach((row, at) => {
      const code = met.codes[row] as number;
      if (code > 0) outcomes[at] = policy.judge.metOutcome(outcomes[at] as number, rules[code - 1] as string[]);
    });
  }

  #count(
    outcomes: readonly OutcomeCounts[],
    times: Float64Array,
    breakdowns: BreakdownCounts,
  ): Omit<ChunkCounts, 'judge'> {
    return {
      requests: this.#table.rows,
      uncovered: this.#uncovered.length,
      ...spanOf(outcomes, this.#uncovered, times),
      policies: this.#parts.map(({ number, policy, rows: own, clients }, at) => ({
        policy: number,
        outcomes: outcomes[at] as OutcomeCounts,
        newOutcomes: policy.newOutcomes(),
        doubts: doubtsOf(
          { table: this.#table, rows: own, peers: this.#chunk.clients.peers, clients: clients.codes },
          this.#prepared.trust.get(policy.policy.name) as ClientTrust,
        ),
        unresolved: policy.policy.destinations.resolve ? this.#unresolvedIn(own) : [],
      })),
      breakdowns,
    };
  }

  #unresolvedIn(rows: Uint32Array): HostRequests[] {
    const { destinations } = this.#chunk;
    const classes = destinations.classes(this.#prepared.shared().partition);
    return unresolvedIn(destinations, rows, (code) => classes[code] !== NOT_KNOWN);
  }

  /** `distinct`: for each part the outcomes that came. */
  #written(distinct: readonly Uint32Array[]): ChunkVerdicts {
    const judged = this.#parts.map(({ policy, rows, outcomes, clients }, at) => ({
      policy,
      rows,
      outcomes,
      distinct: distinct[at] as Uint32Array,
      clients: clients.codes,
    }));
    const { countries } = this.#prepared.shared().partition;
    return writeVerdicts(this.#chunk.kernel, this.#table.rows, judged, this.#uncovered, this.#clients, countries);
  }

  #destinationCountries(): TextColumn | undefined {
    const resolving = this.#parts.filter(({ policy }) => policy.policy.destinations.resolve).map(({ rows }) => rows);
    const { partition } = this.#prepared.shared();
    return destinationCountries(this.#table, partition, this.#chunk.destinations, resolving);
  }
}

const NONE = new Int32Array(0);

/** The places that have the value. */
function placesOf(values: Int32Array, value: number): Int32Array {
  const found = new Int32Array(values.length);
  let count = 0;
  for (let at = 0; at < values.length; at++) if (values[at] === value) found[count++] = at;
  return found.slice(0, count);
}

/** The earliest and the latest time of what was counted and of some rows more; NaN is none. */
function spanOf(
  counted: readonly OutcomeCounts[],
  rows: Uint32Array,
  times: Float64Array,
): { readonly first: number; readonly last: number } {
  let first = Number.POSITIVE_INFINITY;
  let last = Number.NEGATIVE_INFINITY;
  const take = (earliest: number, latest: number) => {
    if (earliest < first) first = earliest;
    if (latest > last) last = latest;
  };
  for (const { first: earliest, last: latest } of counted)
    for (let at = 0; at < earliest.length; at++) take(earliest[at] as number, latest[at] as number);
  for (const row of rows) take(times[row] as number, times[row] as number);
  return { first, last };
}
