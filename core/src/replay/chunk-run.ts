import {
  type AddressColumn,
  CodedTextBuilder,
  type CodedTexts,
  type Column,
  type ColumnTable,
  codeOffsets,
  joinAddresses,
  type Kinds,
  kindsIn,
  type TextColumn,
} from '../column/index.js';
import { type AddressClass, allRows, numberColumn, PENDING, type Prepared, textColumn } from '../engine/index.js';
import type { FinishedChunk } from './chunk-judge.js';
import type { ChunkClients, ResolvedClients } from './clients.js';
import type { PolicyRun } from './policy-run.js';
import { NO_POLICY } from './routing.js';
import type { BreakdownCounter } from './tally/breakdowns.js';
import type { ChunkCounts } from './tally/chunk-counts.js';
import { countOutcomes } from './tally/policy-tally.js';
import { UNCOVERED_ANSWER } from './tally/share-tally.js';
import type { SettledRows } from './waiting/settling.js';
import type { Examples, WaitingRows } from './waiting/waiting-rows.js';

/** What one policy did with its rows of a chunk. */
interface Part {
  /** The policy's place among those of the run. */
  readonly number: number;
  readonly policy: PolicyRun;
  readonly rows: Uint32Array;
  readonly clients: ResolvedClients;
  readonly outcomes: Int32Array;
  /** The places of the rows that wait for limits. */
  readonly waiting: Int32Array;
}

/** The requests of a chunk that are judged, and what is found of them once for all policies. */
export interface ChunkParts {
  readonly table: ColumnTable;
  readonly clients: ChunkClients;
  readonly kinds: Kinds;
  /** The rows of the log's chunk that the table has; undefined where it has all. */
  readonly logRows: Uint32Array | undefined;
}

/** One chunk of a run: judged, then, when nothing of it waits any more, counted and told. */
export class ChunkRun {
  readonly #chunk: ChunkParts;
  readonly #policies: readonly PolicyRun[];
  readonly #prepared: Prepared;
  readonly #parts: Part[] = [];
  #uncovered: Uint32Array = new Uint32Array(0);

  constructor(chunk: ChunkParts, policies: readonly PolicyRun[], prepared: Prepared) {
    this.#chunk = chunk;
    this.#policies = policies;
    this.#prepared = prepared;
  }

  get #table(): ColumnTable {
    return this.#chunk.table;
  }

  /**
   * Judges all rows; `routes` gives each row's policy, and without it the only policy has all. Answers the rows that
   * wait for limits.
   */
  judge(routes: Int32Array | undefined, examples: readonly Examples[]): WaitingRows[] {
    const [uncovered, ...byPolicy] = rowsBy(this.#table.rows, routes, this.#policies.length);
    this.#uncovered = uncovered as Uint32Array;
    const waiting = byPolicy.map((rows, number) =>
      rows.length > 0 ? this.#judgePart(number, rows, examples[number] as Examples) : undefined,
    );
    return waiting.filter((rows) => rows !== undefined);
  }

  /** Takes what became of the rows of a policy that waited. */
  settle({ policy, outcomes, codes }: SettledRows): void {
    const part = this.#parts.find(({ number }) => number === policy) as Part;
    const numbers = outcomes.map((outcome) => part.policy.judge.adopt(outcome));
    const { waiting, outcomes: ofRows } = part;
    for (let at = 0; at < waiting.length; at++) ofRows[waiting[at] as number] = numbers[codes[at] as number] as number;
  }

  /** Counts the chunk, and answers its verdicts. */
  finish(counter: BreakdownCounter): Omit<FinishedChunk, 'number'> {
    for (const part of this.#parts) this.#applyMet(part);
    const clients = this.#clients();
    const countries = this.#countries();
    const columns = new Map<string, Column>([
      ['outcome', this.#outcomes()],
      ['client', clients],
      ['country', countries],
    ]);
    const { logRows } = this.#chunk;
    if (logRows) columns.set('row', { type: 'number', values: Float64Array.from(logRows) });
    return { verdicts: { rows: this.#table.rows, columns }, counts: this.#count(counter, clients, countries) };
  }

  #judgePart(number: number, rows: Uint32Array, examples: Examples): WaitingRows | undefined {
    const policy = this.#policies[number] as PolicyRun;
    const [table, prepared] = [this.#table, this.#prepared];
    const clients = this.#chunk.clients.of(policy.policy.name, rows);
    const kinds = rows.length === table.rows ? this.#chunk.kinds : kindsIn(this.#chunk.kinds, rows);
    const { outcomes, classes } = policy.judge.rows({ table, rows, clients, kinds });
    const waiting = placesOf(outcomes, PENDING);
    this.#parts.push({ number, policy, rows, clients, outcomes, waiting });
    if (waiting.length === 0) return undefined;
    const block = { table, rows, clients, policy: policy.policy, prepared };
    return examples.waitingRows(policy, number, block, classes, waiting);
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

  #count(counter: BreakdownCounter, clients: AddressColumn, countries: TextColumn): ChunkCounts {
    const { rows } = this.#table;
    const times = numberColumn(this.#table, 'time') ?? new Float64Array(rows).fill(Number.NaN);
    const { first, last } = spanOf(times);
    return {
      requests: rows,
      uncovered: this.#uncovered.length,
      first,
      last,
      policies: this.#parts.map(({ number, policy, rows: own, outcomes }) => ({
        policy: number,
        outcomes: countOutcomes(outcomes, policy.judge.outcomes, own, times),
      })),
      breakdowns: counter.count(this.#chunk, this.#answers(), clients, countries),
    };
  }

  /** For each row the place of its verdict among the answers. */
  #answers(): Uint8Array {
    const { rows } = this.#table;
    const answers = new Uint8Array(rows).fill(UNCOVERED_ANSWER);
    for (const { policy, rows: own, outcomes } of this.#parts) {
      const byOutcome = policy.answers();
      const answerAt = own.length === rows ? answers : new Uint8Array(own.length);
      for (let at = 0; at < own.length; at++) answerAt[at] = byOutcome[outcomes[at] as number] as number;
      if (answerAt !== answers)
        for (let at = 0; at < own.length; at++) answers[own[at] as number] = answerAt[at] as number;
    }
    return answers;
  }

  #outcomes(): Column {
    const column = new CodedTextBuilder(this.#table.rows);
    for (const { policy, rows, outcomes } of this.#parts)
      column.setCoded(rows, outcomes, policy);
    return column.build();
  }

  #countries(): TextColumn {
    const { classes: known } = this.#prepared.shared().partition;
    const column = new CodedTextBuilder(this.#table.rows);
    for (const { rows, clients } of this.#parts)
      column.setCoded(rows, clients.codes, new ClientCountries(clients, known));
    return column.build();
  }

  /** The clients that the policies found; of requests that none covers the peers. */
  #clients(): AddressColumn {
    const { peers } = this.#chunk.clients;
    const own = this.#parts.map(({ rows, clients }) => ({ rows, column: clients.dictionary }));
    if (this.#uncovered.length > 0) own.push({ rows: this.#uncovered, column: peers });
    const columns = [...new Set(own.map(({ column }) => column))];
    if (columns.length === 1) return columns[0] as AddressColumn;
    const offsets = codeOffsets(columns);
    const codes = new Uint32Array(this.#table.rows);
    for (const { rows, column } of own) takeCodes(column, rows, offsets[columns.indexOf(column)] as number, codes);
    return joinAddresses(columns, codes);
  }
}

/** The countries of clients, by their codes. */
class ClientCountries implements CodedTexts {
  readonly #classes: Int32Array;
  readonly #known: readonly AddressClass[];

  constructor({ classes }: ResolvedClients, known: readonly AddressClass[]) {
    this.#classes = classes;
    this.#known = known;
  }

  get count(): number {
    return this.#classes.length;
  }

  text(code: number): string | undefined {
    return this.#known[this.#classes[code] as number]?.country;
  }
}

/** Writes the codes of the rows, counted on from the offset; 0 stays absent. */
function takeCodes({ codes }: AddressColumn, rows: Uint32Array, offset: number, into: Uint32Array): void {
  for (let at = 0; at < rows.length; at++) {
    const row = rows[at] as number;
    const code = codes[row] as number;
    into[row] = code === 0 ? 0 : offset + code;
  }
}

/** The rows that go to no policy, then those of each policy; without routes the first has all. */
function rowsBy(rows: number, routes: Int32Array | undefined, policies: number): Uint32Array[] {
  const none = new Uint32Array(0);
  if (routes === undefined) return [none, allRows(rows), ...new Array<Uint32Array>(policies - 1).fill(none)];
  const counts = new Uint32Array(policies + 1);
  for (let row = 0; row < rows; row++) {
    const part = (routes[row] as number) - NO_POLICY;
    counts[part] = (counts[part] as number) + 1;
  }
  const found = Array.from(counts, (count) => new Uint32Array(count));
  counts.fill(0);
  for (let row = 0; row < rows; row++) {
    const part = (routes[row] as number) - NO_POLICY;
    const count = counts[part] as number;
    (found[part] as Uint32Array)[count] = row;
    counts[part] = count + 1;
  }
  return found;
}

/** The places at which the value stands. */
function placesOf(values: Int32Array, value: number): Int32Array {
  const found = new Int32Array(values.length);
  let count = 0;
  for (let at = 0; at < values.length; at++) if (values[at] === value) found[count++] = at;
  return found.slice(0, count);
}

/** The earliest and the latest time; NaN is none. */
function spanOf(times: Float64Array): { readonly first: number; readonly last: number } {
  let first = Number.POSITIVE_INFINITY;
  let last = Number.NEGATIVE_INFINITY;
  for (let at = 0; at < times.length; at++) {
    const time = times[at] as number;
    if (time < first) first = time;
    if (time > last) last = time;
  }
  return { first, last };
}
