import type {
  AddressColumn,
  Codes,
  Column,
  ColumnTable,
  NumberColumn,
  RowCodes,
  TextBytes,
  TextColumn,
} from './column.js';
import { addressCodes } from './joined-addresses.js';
import { LayoutError } from './layout-error.js';
import { type Packing, unpackedLater } from './packed.js';
import { decodeTexts, textCodes } from './texts.js';
import { codedWhole, readWhole, readWholeAt, requireWhole, wholeBody } from './whole.js';

/*
 * The binary layout of a column table, version 3; `docs/layout.md` specifies it. All numbers are little-endian.
 *
 *   "JFCT"  u16 version  u16 columns  u32 rows
 *   each column:  u8 kind (and whether packed)  u8 width  u16 name bytes  u32 body bytes  name (UTF-8)  body
 */
const MAGIC = 'JFCT';
const VERSION = 3;
/** Version 2 has no columns of whole numbers or packed ones, and version 1 none of addresses either. */
const OLDEST = 1;
const HEAD = 12;
const COLUMN_HEAD = 8;
/** The kinds by their numbers. Those without a name were of verdicts in version 1, which are kept no more. */
const KINDS = ['text', 'number', undefined, undefined, 'address', 'whole'] as const;
type Kind = (typeof KINDS)[number];
/** The bit of a kind that says that the body is packed. */
const PACKED = 0x80;
/** A body is kept packed where that makes it so much smaller; else unpacking it would cost more than it saves. */
const WORTH_PACKING = 0.5;
/** A sample of this many bytes from the middle of a large body shows whether packing all of it is worth it. */
const SAMPLE = 8192;

const encoder = new TextEncoder();
const decoder = new TextDecoder('utf-8', { ignoreBOM: true });

/** With a packing, each column's body is packed by itself where that gains enough. */
export function encodeTable(table: ColumnTable, packing?: Packing): Uint8Array {
  const parts = [...table.columns].map(([name, column]) => ({
    name: encoder.encode(name),
    ...smaller(stored(column), packing),
  }));
  const size = parts.reduce((sum, { name, body }) => sum + COLUMN_HEAD + name.length + body.length, HEAD);
  const bytes = new Uint8Array(size);
  const view = new DataView(bytes.buffer);
  bytes.set(encoder.encode(MAGIC));
  view.setUint16(4, VERSION, true);
  view.setUint16(6, parts.length, true);
  view.setUint32(8, table.rows, true);
  let at = HEAD;
  for (const { kind, width, name, body, packed } of parts) {
    view.setUint8(at, KINDS.indexOf(kind) | (packed ? PACKED : 0));
    view.setUint8(at + 1, width);
    view.setUint16(at + 2, name.length, true);
    view.setUint32(at + 4, body.length, true);
    bytes.set(name, at + COLUMN_HEAD);
    bytes.set(body, at + COLUMN_HEAD + name.length);
    at += COLUMN_HEAD + name.length + body.length;
  }
  return bytes;
}

/** Packed columns need the packing that they were made with, and are unpacked when they are first looked at. */
export function decodeTable(bytes: Uint8Array, packing?: Packing): ColumnTable {
  const { rows, stored } = storedColumns(bytes);
  const columns = new Map<string, Column>();
  for (const { name, kind, width, body, packed } of stored) {
    if (!packed) {
      columns.set(name, columnOf(kind, width, body, rows));
      continue;
    }
    if (kind === undefined || packing === undefined)
      throw new LayoutError('a column is packed in a way not known here');
    const open = () => columnOf(kind, width, packing.unpack(body), rows);
    columns.set(name, unpackedLater(kind === 'whole' ? 'number' : kind, open));
  }
  return { rows, columns };
}

/** The packed bodies of a table as it is stored, as `decodeTable` gives them to the packing. */
export const packedBodies = (bytes: Uint8Array): Uint8Array[] =>
  storedColumns(bytes).stored.flatMap(({ packed, body }) => (packed ? [body] : []));

function storedColumns(bytes: Uint8Array): { readonly rows: number; readonly stored: NamedColumn[] } {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < HEAD || decoder.decode(bytes.subarray(0, 4)) !== MAGIC)
    throw new LayoutError('not a column table');
  const version = view.getUint16(4, true);
  if (version < OLDEST || version > VERSION) throw new LayoutError(`layout version ${version} is not known here`);
  const stored: NamedColumn[] = [];
  let at = HEAD;
  for (let left = view.getUint16(6, true); left > 0; left--) {
    if (at + COLUMN_HEAD > bytes.length) throw new LayoutError('the table is cut off');
    const nameEnd = at + COLUMN_HEAD + view.getUint16(at + 2, true);
    const end = nameEnd + view.getUint32(at + 4, true);
    if (end > bytes.length) throw new LayoutError('the table is cut off');
    stored.push({
      name: decoder.decode(bytes.subarray(at + COLUMN_HEAD, nameEnd)),
      kind: KINDS[view.getUint8(at) & ~PACKED],
      width: view.getUint8(at + 1),
      body: bytes.subarray(nameEnd, end),
      packed: (view.getUint8(at) & PACKED) !== 0,
    });
    at = end;
  }
  return { rows: view.getUint32(8, true), stored };
}

function smaller(column: StoredColumn, packing: Packing | undefined): StoredColumn & { readonly packed: boolean } {
  const body = packing && mayGain(column.body, packing) ? packing.pack(column.body) : undefined;
  return body && gains(body, column.body) ? { ...column, body, packed: true } : { ...column, packed: false };
}

const gains = (packed: Uint8Array, body: Uint8Array): boolean => packed.length < body.length * WORTH_PACKING;

function mayGain(body: Uint8Array, packing: Packing): boolean {
  if (body.length < 4 * SAMPLE) return true;
  const from = (body.length - SAMPLE) >> 1;
  const sample = body.subarray(from, from + SAMPLE);
  return gains(packing.pack(sample), sample);
}

interface NamedColumn extends StoredColumn {
  readonly name: string;
  readonly packed: boolean;
}

/** A column as it is stored; the width is that of its codes or numbers, where they have one. */
interface StoredColumn {
  readonly kind: Kind;
  readonly width: number;
  readonly body: Uint8Array;
}

function stored(column: Column): StoredColumn {
  switch (column.type) {
    case 'text':
      return { kind: 'text', width: widthOf(column), body: textBody(column) };
    case 'number': {
      const whole = wholeBody(column.values);
      return whole ? { kind: 'whole', ...whole } : { kind: 'number', width: 0, body: bytesOf(column.values) };
    }
    case 'address':
      return { kind: 'address', width: widthOf(column), body: addressBody(column) };
  }
}

/** u32 entries, u32 bytes of text, u32 end of each entry, the entries in UTF-8, then a code a row. */
function textBody(column: TextColumn): Uint8Array {
  const codes = narrowed(column);
  const { texts, ends } = column.bytes ?? encodeTexts(column.dictionary);
  const body = new Uint8Array(8 + ends.byteLength + texts.length + codes.byteLength);
  const view = new DataView(body.buffer);
  view.setUint32(0, ends.length, true);
  view.setUint32(4, texts.length, true);
  body.set(bytesOf(ends), 8);
  body.set(texts, 8 + ends.byteLength);
  body.set(bytesOf(codes), 8 + ends.byteLength + texts.length);
  return body;
}

function encodeTexts(dictionary: readonly string[]): TextBytes {
  const encoded = dictionary.map((text) => encoder.encode(text));
  const texts = new Uint8Array(encoded.reduce((sum, text) => sum + text.length, 0));
  let end = 0;
  const ends = Uint32Array.from(encoded, (text) => {
    texts.set(text, end);
    end += text.length;
    return end;
  });
  return { texts, ends };
}

function columnOf(kind: Kind, width: number, body: Uint8Array, rows: number): Column {
  switch (kind) {
    case 'text':
      return textColumn(width, body, rows);
    case 'number':
      requireSize(body, rows * 8);
      return new StoredNumberColumn({ all: () => new Float64Array(copyOf(body)) });
    case 'whole':
      requireWhole(width, body, rows);
      return new StoredNumberColumn({
        all: () => readWhole(width, body, rows),
        at: (row) => readWholeAt(width, body, row),
        coded: () => codedWhole(width, body, rows),
      });
    case 'address':
      return addressColumn(width, body, rows);
    case undefined:
      throw new LayoutError('a column is of a kind not known here');
  }
}

function requireSize(body: Uint8Array, expected: number): void {
  if (body.length !== expected) throw new LayoutError('a column does not have one value a row');
}

/** A copy, so that it is aligned; `slice` would share memory where the bytes are a Node Buffer. */
const copyOf = (bytes: Uint8Array): ArrayBuffer => new Uint8Array(bytes).buffer as ArrayBuffer;

function textColumn(width: number, body: Uint8Array, rows: number): TextColumn {
  const view = new DataView(body.buffer, body.byteOffset, body.byteLength);
  const entries = view.getUint32(0, true);
  const textsAt = 8 + entries * 4;
  const codesAt = textsAt + view.getUint32(4, true);
  if (codesAt > body.length) throw new LayoutError('a dictionary is cut off');
  requireSize(body.subarray(codesAt), rows * width);
  return new StoredTextColumn(body, width, textsAt, codesAt);
}

/** A column of numbers as stored; decoded on first use, since most work needs few columns. */
class StoredNumberColumn implements NumberColumn {
  readonly type = 'number';
  readonly #stored: NumberReader;
  #values: Float64Array | undefined;

  constructor(stored: NumberReader) {
    this.#stored = stored;
  }

  get values(): Float64Array {
    this.#values ??= this.#stored.all();
    return this.#values;
  }

  at(row: number): number {
    return this.#values || !this.#stored.at ? (this.values[row] as number) : this.#stored.at(row);
  }

  coded(): RowCodes | undefined {
    return this.#stored.coded?.();
  }
}

/** Reads a column of numbers: all values, or one without the others, or what is in place of values. */
interface NumberReader {
  readonly all: () => Float64Array;
  readonly at?: (row: number) => number;
  readonly coded?: () => RowCodes | undefined;
}

/** A text column as stored. Its texts are decoded on first use, which replays rarely need. */
class StoredTextColumn implements TextColumn {
  readonly type = 'text';
  readonly #body: Uint8Array;
  readonly #width: number;
  readonly #textsAt: number;
  readonly #codesAt: number;
  #codes: Codes | undefined;
  #bytes: TextBytes | undefined;
  #dictionary: readonly string[] | undefined;

  constructor(body: Uint8Array, width: number, textsAt: number, codesAt: number) {
    this.#body = body;
    this.#width = width;
    this.#textsAt = textsAt;
    this.#codesAt = codesAt;
  }

  get codes(): Codes {
    this.#codes ??= codesFrom(this.#width, this.#body.subarray(this.#codesAt));
    return this.#codes;
  }

  get bytes(): TextBytes {
    this.#bytes ??= {
      texts: this.#body.subarray(this.#textsAt, this.#codesAt),
      ends: new Uint32Array(copyOf(this.#body.subarray(8, this.#textsAt))),
    };
    return this.#bytes;
  }

  get dictionary(): readonly string[] {
    this.#dictionary ??= decodeTexts(this.bytes);
    return this.#dictionary;
  }
}

function codesFrom(width: number, body: Uint8Array): Codes {
  if (width === 1) return new Uint32Array(body);
  return width === 4 ? new Uint32Array(copyOf(body)) : new Uint32Array(new Uint16Array(copyOf(body)));
}

/** The bytes that a code takes: as few as the highest of them needs. */
function widthOf(column: TextColumn | AddressColumn): 1 | 2 | 4 {
  const highest = (column.type === 'address' ? addressCodes(column) : textCodes(column)) - 1;
  return highest < 0x100 ? 1 : highest < 0x10000 ? 2 : 4;
}

function narrowed(column: TextColumn | AddressColumn): Uint8Array | Uint16Array | Uint32Array {
  const width = widthOf(column);
  return width === 1 ? new Uint8Array(column.codes) : width === 2 ? new Uint16Array(column.codes) : column.codes;
}

/** u32 IPv4 addresses, u32 IPv6 addresses, then those of each family as words, then a code a row. */
function addressBody(column: AddressColumn): Uint8Array {
  const { four, six } = column;
  const codes = narrowed(column);
  const body = new Uint8Array(8 + four.byteLength + six.byteLength + codes.byteLength);
  const view = new DataView(body.buffer);
  view.setUint32(0, four.length, true);
  view.setUint32(4, six.length / 4, true);
  body.set(bytesOf(four), 8);
  body.set(bytesOf(six), 8 + four.byteLength);
  body.set(bytesOf(codes), 8 + four.byteLength + six.byteLength);
  return body;
}

function addressColumn(width: number, body: Uint8Array, rows: number): AddressColumn {
  const view = new DataView(body.buffer, body.byteOffset, body.byteLength);
  const sixAt = 8 + view.getUint32(0, true) * 4;
  const codesAt = sixAt + view.getUint32(4, true) * 16;
  if (codesAt + rows * width !== body.length) throw new LayoutError('a column of addresses is cut off');
  const words = (from: number, to: number) => new Uint32Array(copyOf(body.subarray(from, to)));
  const codes = codesFrom(width, body.subarray(codesAt));
  return { type: 'address', four: words(8, sixAt), six: words(sixAt, codesAt), codes };
}

function bytesOf(array: Float64Array | Uint8Array | Uint16Array | Uint32Array): Uint8Array {
  return new Uint8Array(array.buffer, array.byteOffset, array.byteLength);
}
