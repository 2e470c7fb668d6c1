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
  /** For each code of a client that of its country; 0 for none. */
  readonly countryOfClient: Int32Array;
  /** The country of each row's destination; undefined where no row shows an address. */
  readonly destinationCountries: TextColumn | undefined;
  readonly #clients: JoinedClients;
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
    this.#clients = clients;
    this.#outcomes = new CodedTextBuilder(rows);
    this.#countries = new CodedTextBuilder(rows);
    this.countryOfClient = codesOfCountries(clients.classes, classes, this.#countries);
    this.#codes = new Uint32Array(rows);
  }

  add(judged: JudgedRows): void {
    this.#addOutcomes(judged);
    this.#addClients(judged);
  }

  // Two passes, in each of which the tables that rows look into stay in the processor's caches.

  #addOutcomes({ policy, rows, outcomes }: JudgedRows): void {
    const answerOf = policy.answers();
    const codeOf = new Int32Array(policy.judge.outcomes.length).fill(UNKNOWN);
    const { answers } = this;
    const { codes } = this.#outcomes;
    for (let at = 0; at < rows.length; at++) {
      const row = rows[at] as number;
      const outcome = outcomes[at] as number;
      let code = codeOf[outcome] as number;
      if (code === UNKNOWN) {
        code = this.#outcomes.code(policy.text(outcome));
        codeOf[outcome] = code;
      }
      codes[row] = code;
      answers[row] = answerOf[outcome] as number;
    }
  }

  #addClients({ rows, clients }: JudgedRows): void {
    const { countryOfClient } = this;
    const codes = this.#codes;
    const { codes: countries } = this.#countries;
    for (let at = 0; at < rows.length; at++) {
      const row = rows[at] as number;
      const client = clients[at] as number;
      codes[row] = client;
      countries[row] = countryOfClient[client] as number;
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
}

/** For each client the code of the country of its class. */
function codesOfCountries(
  classOfClient: Int32Array,
  classes: readonly AddressClass[],
  countries: CodedTextBuilder,
): Int32Array {
  const ofClass = new Int32Array(classes.length).fill(UNKNOWN);
  const codes = new Int32Array(classOfClient.length);
  for (let client = 0; client < codes.length; client++) {
    const place = classOfClient[client] as number;
    // The class of clients that are not known is -1.
    if (place < 0) continue;
    if (ofClass[place] === UNKNOWN) ofClass[place] = countries.code(classes[place]?.country);
    codes[client] = ofClass[place] as number;
  }
  return codes;
}
