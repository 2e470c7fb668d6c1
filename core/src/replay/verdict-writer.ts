import { type AddressColumn, CodedTextBuilder, type Column, type TextColumn } from '../column/index.js';
import type { AddressClass } from '../engine/index.js';
import type { JoinedClients } from './clients.js';
import type { PolicyRun } from './policy-run.js';
import { UNCOVERED_ANSWER } from './tally/share-tally.js';

/** Rows that one policy judged. */
export interface JudgedRows {
  readonly policy: PolicyRun;
  readonly rows: Uint32Array;
  /** For each of the rows the number of its outcome. */
  readonly outcomes: Int32Array;
  /** For each of the rows the code of its client among those of the chunk. */
  readonly clients: Uint32Array;
}

/** Not looked up yet. */
const UNKNOWN = -1;

/** Writes the verdicts of a chunk's rows, policy by policy. */
export class VerdictWriter {
  /** For each row the place of its verdict among the answers. */
  readonly answers: Uint8Array;
  /** For each code of a client that of its country; -1 of clients of no request that a policy covers. */
  readonly countryOfClient: Int32Array;
  /** The country of each row's destination; undefined where no row shows an address. */
  readonly destinationCountries: TextColumn | undefined;
  readonly #clients: JoinedClients;
  readonly #classes: readonly AddressClass[];
  readonly #countryOfClass: Int32Array;
  readonly #outcomes: CodedTextBuilder;
  readonly #countries: CodedTextBuilder;
  readonly #codes: Uint32Array;

  /** `classes` are those of the partition that policies share. */
  constructor(
    rows: number,
    clients: JoinedClients,
    classes: readonly AddressClass[],
    destinationCountries: TextColumn | undefined,
  ) {
    this.destinationCountries = destinationCountries;
    this.answers = new Uint8Array(rows).fill(UNCOVERED_ANSWER);
    this.countryOfClient = new Int32Array(clients.classes.length).fill(UNKNOWN);
    this.#clients = clients;
    this.#classes = classes;
    this.#countryOfClass = new Int32Array(classes.length).fill(UNKNOWN);
    this.#outcomes = new CodedTextBuilder(rows);
    this.#countries = new CodedTextBuilder(rows);
    this.#codes = new Uint32Array(rows);
  }

  add({ policy, rows, outcomes, clients }: JudgedRows): void {
    const answerOf = policy.answers();
    const codeOf = new Int32Array(policy.judge.outcomes.length).fill(UNKNOWN);
    const { answers, countryOfClient } = this;
    const codes = this.#codes;
    const ofOutcomes = this.#outcomes.codes;
    const ofCountries = this.#countries.codes;
    // All columns of a row in one pass: the rows of several policies lie scattered among each other.
    for (let at = 0; at < rows.length; at++) {
      const row = rows[at] as number;
      const outcome = outcomes[at] as number;
      const client = clients[at] as number;
      let code = codeOf[outcome] as number;
      if (code === UNKNOWN) {
        code = this.#outcomes.code(policy.text(outcome));
        codeOf[outcome] = code;
      }
      let country = countryOfClient[client] as number;
      if (country === UNKNOWN) country = this.#countryOf(client);
      ofOutcomes[row] = code;
      answers[row] = answerOf[outcome] as number;
      codes[row] = client;
      ofCountries[row] = country;
    }
  }

  /** The peers of rows that no policy covers; they have no country. */
  addUncovered(rows: Uint32Array): void {
    const peers = this.#clients.peers(rows);
    for (let at = 0; at < rows.length; at++) this.#codes[rows[at] as number] = peers[at] as number;
  }

  get outcomes(): Column {
    return this.#outcomes.build();
  }

  get clients(): AddressColumn {
    const { four, six } = this.#clients.dictionary;
    return { type: 'address', four, six, codes: this.#codes };
  }

  get countries(): TextColumn {
    return this.#countries.build();
  }

  #countryOf(client: number): number {
    const place = this.#clients.classes[client] as number;
    // The class of clients that are not known is -1.
    let code = place < 0 ? 0 : (this.#countryOfClass[place] as number);
    if (code === UNKNOWN) {
      code = this.#countries.code(this.#classes[place]?.country);
      this.#countryOfClass[place] = code;
    }
    this.countryOfClient[client] = code;
    return code;
  }
}
