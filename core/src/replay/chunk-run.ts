import {
  type AddressColumn,
  AddressColumnBuilder,
  CodedTextBuilder,
  type Column,
  type ColumnTable,
  type TextColumn,
} from '../column/index.js';
import { addressesIn, allRows, numberColumn, PENDING, type Prepared, textColumn } from '../engine/index.js';
import { addressColumn } from '../log/index.js';
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
    for (const part of this.#parts) this.#applyMet(part);
    const clients = this.#clients();
    const countries = this.#countries();
    this.#tally(tallies, clients, countries);
    const columns = new Map<string, Column>([
      ['outcome', this.#outcomes()],
      ['client', clients],
      ['country', countries],
    ]);
    return { rows: this.#table.rows, columns };
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

  #tally(tallies: RunTallies, clientColumn: AddressColumn, countries: TextColumn): void {
    const { rows } = this.#table;
    const times = numberColumn(this.#table, 'time') ?? new Float64Array(rows).fill(Number.NaN);
    tallies.requests += rows;
    tallies.uncovered += this.#uncovered.length;
    tallies.span.addAll(times);
    const answers = new Uint8Array(rows).fill(UNCOVERED_ANSWER);
    for (const { policy, rows: own, outcomes } of this.#parts) {
      policy.tally.addAll(outcomes, policy.judge.outcomes.length, own, times);
      const byOutcome = policy.answers();
      const answerAt = own.length === rows ? answers : new Uint8Array(own.length);
      for (let at = 0; at < own.length; at++) answerAt[at] = byOutcome[outcomes[at] as number] as number;
      if (answerAt !== answers)
        for (let at = 0; at < own.length; at++) answers[own[at] as number] = answerAt[at] as number;
    }
    tallies.breakdowns.add(this.#table, answers, clientColumn, countries);
  }

  #outcomes(): Column {
    const column = new CodedTextBuilder(this.#table.rows);
    for (const { policy, rows, outcomes } of this.#parts)
      column.setCoded(rows, outcomes, (number) => policy.text(number));
    return column.build();
  }

  #countries(): TextColumn {
    const column = new CodedTextBuilder(this.#table.rows);
    for (const { rows, clients } of this.#parts) column.setCoded(rows, clients.classes, clients.countryOf);
    return column.build();
  }

  /** The clients that the policies found; of requests that none covers the peers. */
  #clients(): AddressColumn {
    const peers = addressColumn(this.#table, 'peer');
    if (peers && this.#parts.every(({ clients }) => clients.arePeers)) return peers;
    const column = new AddressColumnBuilder(this.#table.rows);
    const uncovered = addressesIn(this.#table, 'peer', this.#uncovered);
    for (const { rows, clients } of [...this.#parts, { rows: this.#uncovered, clients: uncovered }]) {
      const codes: number[] = [];
      for (let at = 0; at < rows.length; at++) {
        const code = clients.codes[at] as number;
        codes[code] ??= column.code(clients.at(code));
        column.setCode(rows[at] as number, codes[code]);
      }
    }
    return column.build(this.#table.rows);
  }
}

/** The rows that go to the policy of the number. */
function rowsOf({ rows }: ColumnTable, routes: Int32Array | undefined, policy: number): Uint32Array {
  if (routes === undefined) return allRows(rows);
  const found = new Uint32Array(rows);
  let count = 0;
  for (let row = 0; row < rows; row++) if (routes[row] === policy) found[count++] = row;
  return found.subarray(0, count);
}
