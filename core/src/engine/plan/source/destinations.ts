import type { Address } from '../../../address/index.js';
import {
  type AddressColumn,
  addressCodes,
  addressOf,
  type ChunkTexts,
  type Codes,
  type ColumnTable,
  NOT_KNOWN_BY_ID,
  type NumbersById,
  type TextColumn,
  textCodes,
} from '../../../column/index.js';
import { addressColumn } from '../../../log/index.js';
import { addressesFor, onlyFour, type Resolutions } from '../../../resolution/index.js';
import { classOf, classOfFour, type Partition } from '../partition/partition.js';
import { classesOf, UNSEEN_CLIENT } from './addresses.js';
import { textColumn } from './columns.js';

/** No address of the destination is known. */
export const NOT_KNOWN = UNSEEN_CLIENT;
/** The destination has addresses of several classes. */
export const SEVERAL = -2;

/** What is remembered of hosts from chunk to chunk: of one run by one state of the workspace. */
interface HostMemory {
  readonly texts: ChunkTexts;
  /** Their classes. */
  readonly known: NumbersById;
}

/**
 * Where the rows of a chunk go, by the resolutions of hosts: to the address that a row shows, or to those that its host
 * has. Codes are those of the column of destinations, and behind them those of the column of hosts, so that a host is
 * looked up once a chunk, whatever number of rows and policies asks. Everything is made on first use.
 */
export class Destinations {
  /** The destinations that rows show, by the first codes; undefined where none does. */
  readonly shown: AddressColumn | undefined;
  /** The codes lie below this. */
  readonly count: number;
  readonly #hosts: TextColumn | undefined;
  readonly #rows: number;
  readonly #first: number;
  readonly #resolutions: Resolutions;
  readonly #memory: HostMemory | undefined;
  #codes: Codes | undefined;
  #classes: Int32Array | undefined;

  /** `memory`: that of a run; without, each host is looked up once for itself. */
  constructor(table: ColumnTable, resolutions: Resolutions, memory?: HostMemory) {
    this.#memory = memory;
    this.shown = addressColumn(table, 'destination');
    this.#hosts = textColumn(table, 'host');
    this.#rows = table.rows;
    this.#first = this.shown === undefined ? 0 : addressCodes(this.shown);
    this.count = this.#first + (this.#hosts === undefined ? 1 : textCodes(this.#hosts));
    this.#resolutions = resolutions;
  }

  /** The code of each row of the chunk. May alias the column of hosts. */
  get codes(): Codes {
    this.#codes ??= this.#makeCodes();
    return this.#codes;
  }

  /**
   * For each code the class of its address in the partition, which must be the same one each time; `NOT_KNOWN` where no
   * address is known, `SEVERAL` where there are addresses of several classes.
   */
  classes(partition: Partition): Int32Array {
    this.#classes ??= this.#makeClasses(partition);
    return this.#classes;
  }

  /** The addresses of a code, at least one; undefined where they are not known. */
  addresses(code: number): readonly Address[] | undefined {
    if (this.shown && code > 0 && code < this.#first) return [addressOf(this.shown, code) as Address];
    const host = this.host(code);
    const found = host === undefined ? undefined : addressesFor(this.#resolutions, host);
    return found?.length === 0 ? undefined : found;
  }

  /** The host whose addresses are those of the code; undefined for a code of an address, and for no host. */
  host(code: number): string | undefined {
    return code <= this.#first ? undefined : this.#hosts?.dictionary[code - this.#first - 1];
  }

  #makeClasses(partition: Partition): Int32Array {
    const classes = new Int32Array(this.count).fill(NOT_KNOWN);
    if (this.shown) classes.set(classesOf(this.shown, partition));
    // Hosts of rows that show where they go are not looked up.
    const isUsed = new Uint8Array(this.count);
    const { codes } = this;
    for (let row = 0; row < codes.length; row++) isUsed[codes[row] as number] = 1;
    const texts = this.#memory?.texts.ids('host');
    const known = texts && this.#memory?.known.of(texts);
    for (let host = 1, code = this.#first + 1; code < classes.length; host++, code++) {
      if (isUsed[code] === 0) continue;
      const id = texts?.ids[host] as number;
      const found = known === undefined ? NOT_KNOWN_BY_ID : (known[id] as number);
      classes[code] = found === NOT_KNOWN_BY_ID ? this.#classOf(this.host(code) as string, partition) : found;
      if (known) known[id] = classes[code] as number;
    }
    return classes;
  }

  #classOf(host: string, partition: Partition): number {
    const only = onlyFour(this.#resolutions, host);
    if (only >= 0) return classOfFour(partition, only);
    const [address, ...more] = addressesFor(this.#resolutions, host) ?? [];
    if (address === undefined) return NOT_KNOWN;
    const number = classOf(partition, address);
    // Most hosts have their addresses side by side.
    return more.every((each) => classOf(partition, each) === number) ? number : SEVERAL;
  }

  /** A row's own destination comes before its host. */
  #makeCodes(): Codes {
    const [shown, hosts, first] = [this.shown?.codes, this.#hosts?.codes, this.#first];
    if (shown === undefined) return hosts ?? new Uint32Array(this.#rows);
    const codes = new Uint32Array(this.#rows);
    for (let row = 0; row < codes.length; row++) {
      const own = shown[row] as number;
      codes[row] = own > 0 ? own : first + (hosts === undefined ? 0 : (hosts[row] as number));
    }
    return codes;
  }
}
