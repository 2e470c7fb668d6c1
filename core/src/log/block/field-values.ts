import { type Address } from '../../address/index.js';
import { TextArena } from '../../column/index.js';
import { Memo, readAuthority, readPeer, readTarget } from '../read/fields.js';
import type { ScannedField } from './line-fields.js';

/** The text of a line in the normal form of its field. */
export interface FieldValue {
  /** Undefined where it says that the field was not seen. */
  readonly text: string | undefined;
  readonly address?: Address | undefined;
  /** The port behind a host, and the query behind a path. */
  readonly port?: number | undefined;
  readonly query?: string | undefined;
}

/** The value of a field from a text; `left` when it depends on other fields too, or is invalid. */
export type ReadValue = (text: string) => FieldValue | 'left';

const UNSEEN: FieldValue = { text: undefined };
const peers = new Memo(readPeer);
const authorities = new Memo(readAuthority);
const targets = new Memo(readTarget);

function readAddress(text: string): FieldValue | 'left' {
  const address = peers.get(text);
  return address === 'bad' ? 'left' : { text, address };
}

function readHost(text: string): FieldValue | 'left' {
  const parts = authorities.get(text);
  return parts === 'bad' ? 'left' : { text: parts.host, port: parts.port };
}

function readPath(text: string): FieldValue | 'left' {
  if (text === '*') return UNSEEN;
  const parts = targets.get(text);
  return parts === 'bad' || parts.host !== undefined ? 'left' : { text: parts.path, query: parts.query };
}

/** How the fields are read whose texts have a normal form. */
export const FIELD_VALUES: Readonly<Partial<Record<ScannedField, ReadValue>>> = {
  peer: readAddress,
  destination: readAddress,
  method: (text) => ({ text: text.toUpperCase() }),
  scheme: (text) => ({ text: text.toLowerCase() }),
  host: readHost,
  path: readPath,
};

/** The distinct values of one field in a block, each read once. */
export class FieldValues {
  readonly #bytes: Uint8Array;
  readonly #arena = new TextArena();
  readonly #read: ReadValue;
  readonly #values: (FieldValue | 'left')[] = [];
  /** By value its code in the chunk's column; −1 where it has none yet. */
  #codes = new Int32Array(64).fill(-1);

  constructor(bytes: Uint8Array, read: ReadValue) {
    this.#bytes = bytes;
    this.#read = read;
  }

  /** The number of the value in these bytes. */
  number(start: number, end: number, hash: number): number {
    const number = this.#arena.number(this.#bytes, start, end, hash);
    if (number === this.#values.length) this.#learn(start, end);
    return number;
  }

  value(number: number): FieldValue | 'left' {
    return this.#values[number] as FieldValue | 'left';
  }

  /** The code of the value in the column; `codeOf` makes it on first use. */
  code(number: number, codeOf: (value: FieldValue) => number): number {
    const known = this.#codes[number] as number;
    if (known >= 0) return known;
    const code = codeOf(this.#values[number] as FieldValue);
    this.#codes[number] = code;
    return code;
  }

  #learn(start: number, end: number): void {
    const text = String.fromCharCode(...this.#bytes.subarray(start, end));
    this.#values.push(text === '' || text === '-' ? UNSEEN : this.#read(text));
    if (this.#values.length <= this.#codes.length) return;
    const larger = new Int32Array(this.#codes.length * 2).fill(-1);
    larger.set(this.#codes);
    this.#codes = larger;
  }
}
