import {
  type AddressDictionary,
  addressCodes,
  addressOf,
  type ColumnTable,
  gathered,
  tupleKey,
  zip,
} from '../../column/index.js';
import { type Field, fieldName } from '../../condition/index.js';
import {
  type AddressClass,
  ALL_HEADERS,
  addressesIn,
  addressPart,
  allRows,
  type Clients,
  type Combinations,
  classesOf,
  combine,
  countriesOf,
  countriesText,
  countryIn,
  type Destinations,
  destinationsPart,
  keyPart,
  numberColumn,
  type Prepared,
  pathsOf,
  type SharedPartition,
  subjectOf,
  type Unseen,
} from '../../engine/index.js';
import type { KeyPart, Limit } from '../../limit/index.js';
import { ChunkRows } from '../../log/index.js';
import type { Policy } from '../../policy/index.js';
import { makeRequest, TEXT_FIELDS } from '../../request/index.js';
import type { PathSettings } from '../../url/index.js';

/** The input of the keys of a block's rows. */
export interface KeyedBlock {
  readonly table: ColumnTable;
  readonly rows: Uint32Array;
  readonly clients: Clients;
  readonly destinations: Destinations;
  readonly policy: Policy;
  readonly prepared: Prepared;
}

/** The keys of some rows under one limit. */
export interface RowKeys {
  /** For each row the number of its key among `texts`; −1 − n when entry n of `unseen` names what is missing. */
  readonly numbers: Int32Array;
  readonly texts: readonly string[];
  readonly unseen: readonly (readonly Unseen[])[];
}

/** One part of the keys: a code for each place of the block, below the count, and the text of each code. */
interface PartTexts {
  readonly part: KeyPart;
  readonly codes: Uint32Array;
  readonly count: number;
  text(code: number): string | undefined;
}

/** The parameters of a query are keys one by one. */
const KEY_TEXTS: readonly Field[] = TEXT_FIELDS.filter((field) => field !== 'query');
/** Columns that have a field too. */
const OTHER_COLUMNS: Readonly<Record<string, readonly string[]>> = {
  agent: ['header.user-agent', ALL_HEADERS],
  referrer: ['header.referer', ALL_HEADERS],
};
const NOT_MADE = -(2 ** 31);

/** Reads what rows are counted under by a limit, given by their places in the block. Equal keys are made once. */
export function keysOf(limit: Limit, block: KeyedBlock, places: Int32Array): RowKeys {
  return new KeyReader(limit, block).read(block.rows, places);
}

class KeyReader {
  readonly #parts: readonly PartTexts[];
  readonly #times: Float64Array | undefined;
  readonly #bytes: Float64Array | undefined;
  readonly #countsBytes: boolean;
  readonly #texts: string[] = [];
  readonly #unseen: Unseen[][] = [];
  readonly #byMissing = new Map<string, number>();

  constructor(limit: Limit, block: KeyedBlock) {
    this.#parts = limit.per.map((part) => partTexts(part, block));
    this.#times = numberColumn(block.table, 'time');
    this.#countsBytes = limit.counts === 'bytes';
    this.#bytes = this.#countsBytes ? numberColumn(block.table, 'bytes') : undefined;
  }

  read(rows: Uint32Array, places: Int32Array): RowKeys {
    const { codes, count } = this.#combined(places);
    const known = new Int32Array(count).fill(NOT_MADE);
    const numbers = new Int32Array(places.length);
    const [times, bytes] = [this.#times, this.#bytes];
    for (let at = 0; at < places.length; at++) {
      const place = places[at] as number;
      const row = rows[place] as number;
      const untimed = times === undefined || Number.isNaN(times[row]);
      const unsized = this.#countsBytes && (bytes === undefined || Number.isNaN(bytes[row]));
      if (untimed || unsized) {
        numbers[at] = this.#missing(this.#unseenParts(place), untimed, unsized);
        continue;
      }
      const code = codes[at] as number;
      if (known[code] === NOT_MADE) known[code] = this.#key(place);
      numbers[at] = known[code] as number;
    }
    return { numbers, texts: this.#texts, unseen: this.#unseen };
  }

  /** Numbers what the parts say together at the places. */
  #combined(places: Int32Array): { readonly codes: Uint32Array; readonly count: number } {
    let combined: { readonly codes: Uint32Array; readonly count: number } = {
      codes: new Uint32Array(places.length),
      count: 1,
    };
    for (const { codes, count } of this.#parts) {
      const own = new Uint32Array(places.length);
      for (let at = 0; at < places.length; at++) own[at] = codes[places[at] as number] as number;
      if (combined.count === 1) combined = { codes: own, count };
      else {
        const both = zip(combined.codes, combined.count, own, count);
        combined = { codes: both.codes, count: both.first.length };
      }
    }
    return combined;
  }

  /** The number of the key at the place; below 0 where something of it is not seen. */
  #key(place: number): number {
    const found: string[] = [];
    for (const part of this.#parts) {
      const text = part.text(part.codes[place] as number);
      if (text === undefined) return this.#missing(this.#unseenParts(place), false, false);
      found.push(text);
    }
    return this.#texts.push(tupleKey(found)) - 1;
  }

  #unseenParts(place: number): Unseen[] {
    return this.#parts
      .filter((part) => part.text(part.codes[place] as number) === undefined)
      .map(({ part }) => fieldName(part));
  }

  #missing(parts: readonly Unseen[], untimed: boolean, unsized: boolean): number {
    const missing = [...new Set(parts)];
    if (untimed) missing.push('time');
    if (unsized) missing.push('bytes');
    const key = tupleKey(missing);
    const number = this.#byMissing.get(key) ?? -this.#unseen.push(missing);
    this.#byMissing.set(key, number);
    return number;
  }
}

function partTexts(part: KeyPart, block: KeyedBlock): PartTexts {
  const { table, rows, clients } = block;
  if (part.field === 'client') return new ClientTexts(part, clients);
  const { partition } = block.prepared.shared();
  const isDestination = part.field === 'destination' || part.field === 'destination-country';
  if (isDestination && block.policy.destinations.resolve) return new ResolvedTexts(part, block, partition);
  if (part.field === 'country') return new CountryTexts(part, clients, partition.classes);
  if (part.field === 'destination-country') {
    const { codes, dictionary } = addressesIn(table, 'destination', rows);
    return new CountryTexts(part, { codes, classes: classesOf(dictionary, partition) }, partition.classes);
  }
  const isOneColumn = !OTHER_COLUMNS[part.field]?.some((column) => table.columns.has(column));
  if (KEY_TEXTS.includes(part.field) && isOneColumn)
    return new FieldTexts(part, combine(table, [part.field], rows), block.policy.paths);
  return new RowTexts(part, block);
}

class ClientTexts implements PartTexts {
  readonly part: KeyPart;
  readonly codes: Uint32Array;
  readonly count: number;
  readonly #dictionary: AddressDictionary;

  constructor(part: KeyPart, { codes, dictionary }: Clients) {
    this.part = part;
    this.codes = codes;
    this.count = addressCodes(dictionary);
    this.#dictionary = dictionary;
  }

  text(code: number): string | undefined {
    return addressPart(addressOf(this.#dictionary, code), this.part.prefix);
  }
}

class CountryTexts implements PartTexts {
  readonly part: KeyPart;
  readonly codes: Uint32Array;
  readonly count: number;
  readonly #classes: readonly AddressClass[];

  constructor(part: KeyPart, { codes, classes }: Pick<Clients, 'codes' | 'classes'>, all: readonly AddressClass[]) {
    this.part = part;
    this.#classes = all;
    // Classes count from −1 on, which is that of addresses that are not seen.
    this.codes = new Uint32Array(codes.length);
    for (let at = 0; at < codes.length; at++) this.codes[at] = (classes[codes[at] as number] as number) + 1;
    this.count = this.#classes.length + 1;
  }

  text(code: number): string | undefined {
    return this.#classes[code - 1]?.country;
  }
}

/** The destination, or its countries, where the policy resolves them. */
class ResolvedTexts implements PartTexts {
  readonly part: KeyPart;
  readonly codes: Uint32Array;
  readonly count: number;
  readonly #destinations: Destinations;
  readonly #partition: SharedPartition['partition'];
  readonly #known = new Map<number, string | undefined>();

  constructor(part: KeyPart, { destinations, rows }: KeyedBlock, partition: SharedPartition['partition']) {
    this.part = part;
    this.codes = gathered(destinations.codes, rows);
    this.count = destinations.count;
    this.#destinations = destinations;
    this.#partition = partition;
  }

  text(code: number): string | undefined {
    if (!this.#known.has(code)) this.#known.set(code, this.#made(code));
    return this.#known.get(code);
  }

  #made(code: number): string | undefined {
    const addresses = this.#destinations.addresses(code);
    if (addresses === undefined || this.part.field === 'destination')
      return addresses && destinationsPart(addresses, this.part.prefix);
    const countries = countriesOf(addresses, (address) => countryIn(this.#partition, address));
    return countries && countriesText(countries);
  }
}

class FieldTexts implements PartTexts {
  readonly part: KeyPart;
  readonly codes: Uint32Array;
  readonly count: number;
  readonly #texts: Combinations;
  readonly #known = new Map<number, string | undefined>();

  readonly #paths: PathSettings;

  constructor(part: KeyPart, texts: Combinations, paths: PathSettings) {
    this.#paths = paths;
    this.part = part;
    this.codes = texts.codes;
    this.count = texts.count;
    this.#texts = texts;
  }

  text(code: number): string | undefined {
    if (!this.#known.has(code)) this.#known.set(code, this.#made(code));
    return this.#known.get(code);
  }

  #made(code: number): string | undefined {
    const request = makeRequest({ [this.part.field]: this.#texts.texts(code)[0] });
    return keyPart(this.part, { request, client: NO_CLIENT, ...NO_ORIGINS, ...pathsOf(request, this.#paths) });
  }
}

const NO_ORIGINS = { origin: undefined, destinations: undefined, destinationCountries: undefined };
const NO_CLIENT = { address: undefined, source: 'peer', how: 'no-peer' } as const;

/** Fields that depend on several columns are read row by row. */
class RowTexts implements PartTexts {
  readonly part: KeyPart;
  readonly codes: Uint32Array;
  readonly count: number;
  readonly #block: KeyedBlock;
  readonly #chunk: ChunkRows;

  constructor(part: KeyPart, block: KeyedBlock) {
    this.part = part;
    this.codes = allRows(block.rows.length);
    this.count = block.rows.length;
    this.#block = block;
    this.#chunk = new ChunkRows(block.table);
  }

  text(place: number): string | undefined {
    const { rows, policy, prepared } = this.#block;
    return keyPart(this.part, subjectOf(this.#chunk.request(rows[place] as number), policy, prepared));
  }
}
