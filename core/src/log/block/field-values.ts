import { type Address } from '../../address/index.js';
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

/** What a run of bytes says, by the number of its kind. */
export const UNKNOWN = 0;
/** It has a value, which is written by its code. */
export const VALUE = 1;
/** It says nothing, or that there is known to be none. */
export const NOTHING = 2;
export const KNOWN_NONE = 3;
/** It depends on other fields too, or is invalid, so that its line is left. */
export const LEFT_RUN = 4;

/** The distinct runs of one field in a block, by their numbers in a batch. */
export class FieldValues {
  #kinds = new Uint8Array(64);
  /** The code of the value in the chunk's column; −1 where it has none yet. */
  #codes = new Int32Array(64).fill(-1);
  readonly #values: (FieldValue | undefined)[] = [];

  /** What the run says, or `UNKNOWN` where that is not learned yet. */
  kind(id: number): number {
    return id < this.#kinds.length ? (this.#kinds[id] as number) : UNKNOWN;
  }

  /** The value in its normal form, of fields that have one. */
  value(id: number): FieldValue | undefined {
    return this.#values[id];
  }

  learn(id: number, kind: number, value?: FieldValue): void {
    if (id >= this.#kinds.length) this.#grow(id + 1);
    this.#kinds[id] = kind;
    if (value) this.#values[id] = value;
  }

  code(id: number): number {
    return this.#codes[id] as number;
  }

  setCode(id: number, code: number): void {
    this.#codes[id] = code;
  }

  #grow(least: number): void {
    const size = Math.max(this.#kinds.length * 2, least);
    const [kinds, codes] = [new Uint8Array(size), new Int32Array(size).fill(-1)];
    kinds.set(this.#kinds);
    codes.set(this.#codes);
    this.#kinds = kinds;
    this.#codes = codes;
  }
}
