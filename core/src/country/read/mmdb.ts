import { type Address, type AddressRange, networkOf } from '../../address/index.js';
import { isCountryCode } from '../code.js';
import type { CountryNetwork, CountryRowFault } from '../networks.js';
import { DamagedFile, MmdbData, type MmdbValue } from './mmdb-data.js';

/** The marker in front of the metadata: three bytes and a name. */
const MARK = Uint8Array.of(0xab, 0xcd, 0xef, ...new TextEncoder().encode('MaxMind.com'));
const FARTHEST_MARK = 128 * 1024;
const SEPARATOR = 16;
const IPV4_DEPTH = 96;
const MOST_STEPS = 30_000_000;
const LAST_SECOND = Date.UTC(9999, 11, 31) / 1000;

export interface MmdbFile {
  readonly networks: CountryNetwork[];
  readonly faults: CountryRowFault[];
  readonly date: string | undefined;
}

/** Whether the bytes are an MMDB file, by the mark near their end. */
export function isMmdb(bytes: Uint8Array): boolean {
  return findMark(bytes) >= 0;
}

/**
 * Reads the networks and countries of an MMDB file (MaxMind DB file format 2.0), IPv4 and IPv6. The code is taken from
 * `country.iso_code`, `country_code` or `country`. A record in no country is passed over. `line` counts records.
 */
export function readMmdb(bytes: Uint8Array): MmdbFile {
  try {
    return new TreeReader(bytes).read();
  } catch (error) {
    if (!(error instanceof DamagedFile)) throw error;
    return { networks: [], faults: [{ line: 0, code: 'damaged', detail: error.message }], date: undefined };
  }
}

function findMark(bytes: Uint8Array): number {
  for (let at = bytes.length - MARK.length; at >= Math.max(0, bytes.length - FARTHEST_MARK); at--)
    if (MARK.every((byte, index) => bytes[at + index] === byte)) return at;
  return -1;
}

interface Step {
  readonly node: number;
  readonly address: Address & { readonly family: 6 };
  readonly depth: number;
}

/** Walks the search tree. */
class TreeReader {
  readonly #bytes: Uint8Array;
  readonly #nodes: number;
  readonly #recordBits: number;
  readonly #sixes: boolean;
  readonly #built: number;
  readonly #data: MmdbData;
  readonly #codes = new Map<number, string | undefined>();
  readonly #networks: CountryNetwork[] = [];
  readonly #faults: CountryRowFault[] = [];
  /** The node of ::/96, or -1 where the tree ends above it. */
  readonly #fours: number;
  #records = 0;
  #steps = 0;

  constructor(bytes: Uint8Array) {
    const meta = new MmdbData(bytes.subarray(findMark(bytes) + MARK.length)).read(0);
    this.#bytes = bytes;
    this.#nodes = numberOf(meta, 'node_count');
    this.#recordBits = numberOf(meta, 'record_size');
    this.#sixes = numberOf(meta, 'ip_version') === 6;
    this.#built = numberOf(meta, 'build_epoch');
    const treeBytes = (this.#nodes * this.#recordBits) / 4;
    if (![24, 28, 32].includes(this.#recordBits) || treeBytes + SEPARATOR > bytes.length)
      throw new DamagedFile('the search tree is larger than the file');
    this.#data = new MmdbData(bytes.subarray(treeBytes + SEPARATOR));
    this.#fours = this.#sixes ? this.#nodeOfFours() : -1;
  }

  read(): MmdbFile {
    const start = this.#sixes ? 0 : IPV4_DEPTH;
    const open: Step[] =
      this.#nodes > 0 ? [{ node: 0, address: { family: 6, words: [0, 0, 0, 0] }, depth: start }] : [];
    for (let step = open.pop(); step; step = open.pop()) {
      if (step.depth >= 128) throw new DamagedFile('the search tree is deeper than an address is long');
      if (this.#steps++ > MOST_STEPS) throw new DamagedFile('the search tree has more branches than any data needs');
      for (const bit of [1, 0] as const) this.#follow(step, bit, open);
    }
    return { networks: this.#networks, faults: this.#faults, date: dayOf(this.#built) };
  }

  #nodeOfFours(): number {
    let node = 0;
    for (let depth = 0; depth < IPV4_DEPTH && node < this.#nodes; depth++) node = this.#record(node, 0);
    return node < this.#nodes ? node : -1;
  }

  #follow({ node, address, depth }: Step, bit: 0 | 1, open: Step[]): void {
    const record = this.#record(node, bit);
    const next = bit === 0 ? address : withBit(address, depth);
    // The IPv4 space is reached again by the prefixes that carry IPv4 in IPv6; only its own place counts.
    const alias = record === this.#fours && !next.words.every((word) => word === 0);
    if (alias) return;
    if (record < this.#nodes) open.push({ node: record, address: next, depth: depth + 1 });
    else if (record > this.#nodes) this.#add(next, depth + 1, record - this.#nodes - SEPARATOR);
  }

  #record(node: number, bit: 0 | 1): number {
    const at = (node * this.#recordBits) / 4;
    const byte = (offset: number) => this.#bytes[at + offset] as number;
    const three = (offset: number) => byte(offset) * 65_536 + byte(offset + 1) * 256 + byte(offset + 2);
    switch (this.#recordBits) {
      case 24:
        return three(bit * 3);
      case 28:
        return (bit === 0 ? byte(3) >>> 4 : byte(3) & 15) * 2 ** 24 + three(bit * 4);
      default:
        return byte(bit * 4) * 2 ** 24 + three(bit * 4 + 1);
    }
  }

  #add(address: Step['address'], depth: number, offset: number): void {
    this.#records++;
    if (!this.#codes.has(offset)) this.#codes.set(offset, codeOf(this.#data.read(offset)));
    const code = this.#codes.get(offset);
    if (code === undefined) return;
    const range = rangeOf(address, depth);
    if (isCountryCode(code)) this.#networks.push({ range, code, line: this.#records });
    else this.#faults.push({ line: this.#records, code: 'country-code', detail: code.slice(0, 40) });
  }
}

/** The day of a number of seconds since 1970; undefined where no four-digit year has it. */
function dayOf(seconds: number): string | undefined {
  return seconds > 0 && seconds < LAST_SECOND ? new Date(seconds * 1000).toISOString().slice(0, 10) : undefined;
}

function withBit(address: Step['address'], depth: number): Step['address'] {
  const words: [number, number, number, number] = [...address.words];
  const word = depth >>> 5;
  words[word] = ((words[word] as number) | (1 << (31 - (depth & 31)))) >>> 0;
  return { family: 6, words };
}

/** A network below ::/96 is one of IPv4. */
function rangeOf({ words }: Step['address'], depth: number): AddressRange {
  const four = depth >= IPV4_DEPTH && words[0] === 0 && words[1] === 0 && words[2] === 0;
  return four ? networkOf({ family: 4, value: words[3] }, depth - IPV4_DEPTH) : networkOf({ family: 6, words }, depth);
}

function numberOf(meta: MmdbValue, key: string): number {
  const value = fieldOf(meta, key);
  const found = typeof value === 'bigint' ? Number(value) : value;
  if (typeof found === 'number' && Number.isSafeInteger(found) && found >= 0) return found;
  throw new DamagedFile(`the metadata has no ${key}`);
}

function codeOf(record: MmdbValue): string | undefined {
  const country = fieldOf(record, 'country');
  const code = fieldOf(country, 'iso_code') ?? fieldOf(record, 'country_code') ?? country;
  return typeof code === 'string' && code !== '' ? code.toUpperCase() : undefined;
}

function fieldOf(value: MmdbValue | undefined, key: string): MmdbValue | undefined {
  if (value === null || typeof value !== 'object' || Array.isArray(value) || value instanceof Uint8Array)
    return undefined;
  return Object.hasOwn(value, key) ? value[key] : undefined;
}
