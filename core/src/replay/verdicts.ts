import { type Address, formatAddress } from '../address/index.js';
import {
  type AddressColumn,
  addressCodes,
  addressOf,
  type ColumnTable,
  type NumberColumn,
  type TextColumn,
} from '../column/index.js';
import { type KeptOutcome, parseOutcome } from './outcome-text.js';

/** The roles of rules that a replay remembers for each request, beside the one that decided. */
export const SIDE_ROLES = ['tagged', 'observed', 'overtaken', 'blind'] as const;
export type SideRole = (typeof SIDE_ROLES)[number];

/**
 * The verdicts of one chunk, row for row: the outcome (none where no policy covers the request), and the client and
 * country as the policy resolved them. What the dictionary says is read once, not once a row.
 */
export class Verdicts {
  readonly rows: number;
  readonly #outcomes: TextColumn | undefined;
  readonly #kept: (KeptOutcome | undefined)[] = [];
  readonly #client: AddressColumn | undefined;
  readonly #country: TextColumn | undefined;
  readonly #logRows: NumberColumn | undefined;

  constructor(table: ColumnTable) {
    const text = (name: string) => {
      const column = table.columns.get(name);
      return column?.type === 'text' ? column : undefined;
    };
    this.rows = table.rows;
    this.#outcomes = text('outcome');
    const client = table.columns.get('client');
    this.#client = client?.type === 'address' ? client : undefined;
    this.#country = text('country');
    const logRows = table.columns.get('row');
    this.#logRows = logRows?.type === 'number' ? logRows : undefined;
  }

  /** The rows of the log's chunk that these are the verdicts of; undefined where they are all of them, in order. */
  get logRows(): Uint32Array | undefined {
    return this.#logRows && Uint32Array.from(this.#logRows.values);
  }

  /** Undefined where no policy covers the request. */
  outcome(row: number): KeptOutcome | undefined {
    const code = this.outcomeCode(row);
    if (code === 0) return undefined;
    this.#kept[code] ??= parseOutcome(this.#outcomes?.dictionary[code - 1] as string);
    return this.#kept[code];
  }

  /** The outcome's code; 0 where there is none. Rows of the same code have the same outcome. */
  outcomeCode(row: number): number {
    return (this.#outcomes?.codes[row] as number | undefined) ?? 0;
  }

  client(row: number): string | null {
    const address = this.clientAddress(row);
    return address ? formatAddress(address) : null;
  }

  clientAddress(row: number): Address | undefined {
    return this.#client && addressOf(this.#client, this.#client.codes[row] as number);
  }

  /** The code of a client in this chunk; rows of the same code have the same client. */
  clientCode(row: number): number {
    return (this.#client?.codes[row] as number | undefined) ?? 0;
  }

  /** Which clients of this chunk hold, 1 by their codes; code 0 stands for a client that was not seen. */
  clientsThat(holds: (address: Address | undefined) => boolean): Uint8Array {
    const client = this.#client;
    const codes = client ? addressCodes(client) : 1;
    return Uint8Array.from({ length: codes }, (_, code) => (holds(client && addressOf(client, code)) ? 1 : 0));
  }

  country(row: number): string | null {
    return textAt(this.#country, row);
  }

  /** The code of a country in this chunk, or undefined where no row has it. */
  countryCode(country: string | null): number | undefined {
    if (country === null) return 0;
    const at = this.#country?.dictionary.indexOf(country) ?? -1;
    return at < 0 ? undefined : at + 1;
  }

  countryCodeOf(row: number): number {
    return (this.#country?.codes[row] as number | undefined) ?? 0;
  }
}

const textAt = (column: TextColumn | undefined, row: number): string | null =>
  column?.dictionary[(column.codes[row] as number) - 1] ?? null;
