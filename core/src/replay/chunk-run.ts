import { CodedTextBuilder, type Column, type ColumnTable } from '../column/index.js';
import { combine, numberColumn, PENDING, type Prepared, textColumn } from '../engine/index.js';
import { type ResolvedClients, resolveClients } from './clients.js';
import { keyReader } from './keys.js';
import type { PolicyRun } from './policy-run.js';
import { NO_POLICY } from './routing.js';
import type { RunTallies } from './run.js';
import { UNCOVERED_ANSWER } from './tally/share-tally.js';

/** What one policy did with its rows of a chunk. */
interface Part {
  readonly policy: PolicyRun;
  readonly rows: Uint32Array;
  readonly clients: ResolvedClients;
  readonly outcomes: Int32Array;
}

/** One chunk of a run: judged, then, when nothing of it waits any more, counted and told. */
export class ChunkRun {
  readonly #table: ColumnTable;
  readonly #policies: readonly PolicyRun[];
  readonly #parts: Part[] = [];
  #uncovered: Uint32Array = new Uint32Array(0);
  #waiting = 0;

  constructor(table: ColumnTable, policies: readonly PolicyRun[]) {
    this.#table = table;
    this.#policies = policies;
  }

  get settled(): boolean {
    return this.#waiting === 0;
  }

  /** Judges all rows; `routes` gives each row's policy, and without it the only policy has all. */
  judge(routes: Int32Array | undefined, number: number, prepared: Prepared): void {
    this.#policies.forEach((policy, at) => {
      const rows = rowsOf(this.#table, routes, at);
      if (rows.length > 0) this.#judgePart(policy, rows, number, prepared);
    });
    if (routes) this.#uncovered = rowsOf(this.#table, routes, NO_POLICY);
  }

  /** Takes the outcome of the row at the place among those of its policy. */
  settle(policy: PolicyRun, at: number, outcome: number): void {
    const part = this.#parts.find((each) => each.policy === policy) as Part;
    part.outcomes[at] = outcome;
    this.#waiting--;
  }

  /** Counts the chunk, and answers its verdicts. */
  finish(tallies: RunTallies): ColumnTable {
    const { rows } = this.#table;
    const outcome = new CodedTextBuilder(rows);
    const client = new CodedTextBuilder(rows);
    const country = new CodedTextBuilder(rows);
    const hostOf = this.#hosts(tallies);
    const times = numberColumn(this.#table, 'time');
    for (let row = 0; row < rows; row++) tallies.span.add(times?.[row] ?? Number.NaN);
    for (const part of this.#parts) {
      this.#applyMet(part);
      const countries = part.clients.countries.map((each) => tallies.countries.number(each ?? null));
      const clientCodes = part.clients.texts.map((text) => client.code(text));
      const countryCodes = part.clients.countries.map((text) => country.code(text));
      const { policy, outcomes, clients } = part;
      const outcomeCodes: number[] = [];
      for (let at = 0; at < part.rows.length; at++) {
        const row = part.rows[at] as number;
        const number = outcomes[at] as number;
        const code = clients.codes[at] as number;
        const answer = policy.answer(number);
        outcomeCodes[number] ??= outcome.code(policy.text(number));
        outcome.codes[row] = outcomeCodes[number];
        client.codes[row] = clientCodes[code] as number;
        country.codes[row] = countryCodes[code] as number;
        tallies.countries.add(countries[code] as number, answer);
        tallies.hosts.add(hostOf(row), answer);
        policy.tally.add(number, times?.[row] ?? Number.NaN);
      }
    }
    this.#finishUncovered(tallies, client, hostOf);
    tallies.requests += rows;
    tallies.uncovered += this.#uncovered.length;
    const columns = new Map<string, Column>([
      ['outcome', outcome.build()],
      ['client', client.build()],
      ['country', country.build()],
    ]);
    return { rows, columns };
  }

  #judgePart(policy: PolicyRun, rows: Uint32Array, number: number, prepared: Prepared): void {
    const clients = resolveClients(this.#table, rows, policy.policy, prepared);
    const { outcomes, nodes } = policy.judge.rows({ table: this.#table, rows, clients });
    const part: Part = { policy, rows, clients, outcomes };
    this.#parts.push(part);
    if (policy.pending.limits.length === 0) return;
    const keyed = { table: this.#table, rows, clients, policy: policy.policy, prepared };
    let readers: ReturnType<typeof keyReader>[] | undefined;
    outcomes.forEach((outcome, at) => {
      if (outcome !== PENDING) return;
      readers ??= policy.pending.limits.map(({ limit }) => keyReader(limit, keyed));
      policy.pending.add(
        number,
        at,
        nodes[at] as number,
        readers.map((read) => read(at)),
      );
      this.#waiting++;
    });
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

  /** The number that a row's host is counted under. */
  #hosts({ hosts }: RunTallies): (row: number) => number {
    const column = textColumn(this.#table, 'host');
    const numbers: number[] = [];
    const numberOf = (code: number) => hosts.number(column?.dictionary[code - 1] ?? null);
    return (row) => {
      const code = column === undefined ? 0 : (column.codes[row] as number);
      numbers[code] ??= numberOf(code);
      return numbers[code];
    };
  }

  #finishUncovered(tallies: RunTallies, client: CodedTextBuilder, hostOf: (row: number) => number): void {
    const peers = combine(this.#table, ['peer'], this.#uncovered);
    const codes = peers.texts.map(([peer]) => client.code(peer));
    const unseen = this.#uncovered.length > 0 ? tallies.countries.number(null) : 0;
    this.#uncovered.forEach((row, at) => {
      client.codes[row] = codes[peers.codes[at] as number] as number;
      tallies.countries.add(unseen, UNCOVERED_ANSWER);
      tallies.hosts.add(hostOf(row), UNCOVERED_ANSWER);
    });
  }
}

/** The rows that go to the policy of the number. */
function rowsOf({ rows }: ColumnTable, routes: Int32Array | undefined, policy: number): Uint32Array {
  const found = new Uint32Array(rows);
  let count = 0;
  for (let row = 0; row < rows; row++) if (routes === undefined || routes[row] === policy) found[count++] = row;
  return found.subarray(0, count);
}
