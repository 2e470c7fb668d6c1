import { type Address, formatAddress } from '../address/index.js';
import {
  type AddressColumn,
  addressCodes,
  addressOf,
  type Codes,
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
  /** The clients and countries; undefined where a replay knows none. */
  readonly clients: AddressColumn | undefined;
  readonly countries: TextColumn | undefined;
  /** The countries of destinations; undefined where no request of the chunk shows the address of its own. */
  readonly destinationCountries: TextColumn | undefined;
  readonly #outcomes: TextColumn | undefined;
  readonly #kept: (KeptOutcome | undefined)[] = [];
  readonly #logRows: NumberColumn | undefined;

  constructor(table: ColumnTable) {
    const text = (name: string) => {
      const column = table.columns.get(name);
      return column?.type === 'text' ? column : undefined;
    };
    this.rows = table.rows;
    this.#outcomes = text('outcome');
    const client = table.columns.get('client');
    this.clients = client?.type === 'address' ? client : undefined;
    this.countries = text('country');
    this.destinationCountries = text('destination-country');
    const logRows = table.columns.get('row');
    this.#logRows = logRows?.type === 'number' ? logRows : undefined;
  }

  /** The rows of the log's chunk that these are the verdicts of; undefined where they are all of them, in order. */
  get logRows(): Uint32Array | undefined {
    return this.#logRows && Uint32Array.from(this.#logRows.values);
  }

  /** Undefined where no policy covers the request. */
  outcome(row: number): KeptOutcome | undefined {
    return this.#outcomeOf(this.outcomeCode(row));
  }

  /** The outcome's code; 0 where there is none. Rows of the same code have the same outcome. */
  outcomeCode(row: number): number {
    return (this.#outcomes?.codes[row] as number | undefined) ?? 0;
  }

  /** The outcome's code of each row. */
  get outcomeCodes(): Codes {
    return this.#outcomes?.codes ?? new Uint32Array(this.rows);
  }

  /** All outcomes by their codes. */
  get outcomes(): (KeptOutcome | undefined)[] {
    return Array.from({ length: 1 + (this.#outcomes?.dictionary.length ?? 0) }, (_, code) => this.#outcomeOf(code));
  }

  client(row: number): string | null {
    const address = this.clientAddress(row);
    return address ? formatAddress(address) : null;
  }

  /** All clients of the chunk, each once. */
  *distinctClients(): Generator<string> {
    const codes = this.clients ? addressCodes(this.clients) : 0;
    for (let code = 1; code < codes; code++)
      yield formatAddress(addressOf(this.clients as AddressColumn, code) as Address);
  }

  clientAddress(row: number): Address | undefined {
    return this.clients && addressOf(this.clients, this.clients.codes[row] as number);
  }

  country(row: number): string | null {
    return this.countries?.dictionary[(this.countries.codes[row] as number) - 1] ?? null;
  }

  destinationCountry(row: number): string | null {
    const column = this.destinationCountries;
    return column?.dictionary[(column.codes[row] as number) - 1] ?? null;
  }

  #outcomeOf(code: number): KeptOutcome | undefined {
    if (code === 0) return undefined;
    this.#kept[code] ??= parseOutcome(this.#outcomes?.dictionary[code - 1] as string);
    return this.#kept[code];
  }
}
