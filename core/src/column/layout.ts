import { addressCodes } from './addresses.js';
import type { AddressColumn, Codes, Column, ColumnTable, NumberColumn, TextBytes, TextColumn } from './column.js';

/*
 * The binary layout of a column table, version 2; `docs/layout.md` tells it in full. All numbers are little-endian.
 *
 *   "JFCT"  u16 version  u16 columns  u32 rows
 *   each column:  u8 kind  u8 width  u16 name bytes  u32 body bytes  name (UTF-8)  body
 */
const MAGIC = 'JFCT';
const VERSION = 2;
/** Version 1 is the same, without columns of addresses. */
const OLDEST = 1;
const HEAD = 12;
const COLUMN_HEAD = 8;
/** The kinds by their numbers. Those without a name were of verdicts in version 1, which are kept no more. */
const KINDS = ['text', 'number', undefined, undefined, 'address'] as const satisfies readonly (
  | Column['type']
  | undefined
)[];

/** A table that cannot be read back: damaged, cut off, or of a later version. */
export class LayoutError extends Error {}

const encoder = new TextEncoder();
const decoder = new TextDecoder('utf-8', { ignoreBOM: true });

export function encodeTable(table: ColumnTable): Uint8Array {
  const parts = [...table.columns].map(([name, column]) => ({
    column,
    name: encoder.encode(name),
    body: bodyOf(column),
  }));
  const size = parts.reduce((sum, { name, body }) => sum + COLUMN_HEAD + name.length + body.length, HEAD);
  const bytes = new Uint8Array(size);
  const view = new DataView(bytes.buffer);
  bytes.set(encoder.encode(MAGIC));
  view.setUint16(4, VERSION, true);
  view.setUint16(6, parts.length, true);
  view.setUint32(8, table.rows, true);
  let at = HEAD;
  for (const { column, name, body } of parts) {
    view.setUint8(at, KINDS.indexOf(column.type));
    view.setUint8(at + 1, 'codes' in column ? widthOf(column) : 0);
    view.setUint16(at + 2, name.length, true);
    view.setUint32(at + 4, body.length, true);
    bytes.set(name, at + COLUMN_HEAD);
    bytes.set(body, at + COLUMN_HEAD + name.length);
    at += COLUMN_HEAD + name.length + body.length;
  }
  return bytes;
}

export function decodeTable(bytes: Uint8Array): ColumnTable {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < HEAD || decoder.decode(bytes.subarray(0, 4)) !== MAGIC)
    throw new LayoutError('not a column table');
  const version = view.getUint16(4, true);
  if (version < OLDEST || version > VERSION) throw new LayoutError(`layout version ${version} is not known here`);
  const rows = view.getUint32(8, true);
  const columns = new Map<string, Column>();
  let at = HEAD;
  for (let left = view.getUint16(6, true); left > 0; left--) {
    if (at + COLUMN_HEAD > bytes.length) throw new LayoutError('the table is cut off');
    const nameEnd = at + COLUMN_HEAD + view.getUint16(at + 2, true);
    const end = nameEnd + view.getUint32(at + 4, true);
    if (end > bytes.length) throw new LayoutError('the table is cut off');
    const name = decoder.decode(bytes.subarray(at + COLUMN_HEAD, nameEnd));
    columns.set(name, columnOf(KINDS[view.getUint8(at)], view.getUint8(at + 1), bytes.subarray(nameEnd, end), rows));
    at = end;
  }
  return { rows, columns };
}

function bodyOf(column: Column): Uint8Array {
  switch (column.type) {
    case 'text':
      return textBody(column);
    case 'number':
      return bytesOf(column.values);
    case 'address':
      return addressBody(column);
  }
}

/** u32 entries, u32 bytes of text, u32 end of each entry, the entries in UTF-8, then a code a row. */
function textBody(column: TextColumn): Uint8Array {
  const { dictionary } = column;
  const codes = narrowed(column);
  const texts = dictionary.map((text) => encoder.encode(text));
  const length = texts.reduce((sum, text) => sum + text.length, 0);
  const textsAt = 8 + texts.length * 4;
  const body = new Uint8Array(textsAt + length + codes.byteLength);
  const view = new DataView(body.buffer);
  view.setUint32(0, texts.length, true);
  view.setUint32(4, length, true);
  let end = 0;
  texts.forEach((text, index) => {
    body.set(text, textsAt + end);
    end += text.length;
    view.setUint32(8 + index * 4, end, true);
  });
  body.set(bytesOf(codes), textsAt + length);
  return body;
}

function columnOf(kind: Column['type'] | undefined, width: number, body: Uint8Array, rows: number): Column {
  switch (kind) {
    case 'text':
      return textColumn(width, body, rows);
    case 'number':
      requireSize(body, rows * 8);
      return new StoredNumberColumn(body);
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

/** A column of numbers as it was stored; made numbers when they are first asked for, since most work needs few columns. */
class StoredNumberColumn implements NumberColumn {
  readonly type = 'number';
  readonly #body: Uint8Array;
  #values: Float64Array | undefined;

  constructor(body: Uint8Array) {
    this.#body = body;
  }

  get values(): Float64Array {
    this.#values ??= new Float64Array(copyOf(this.#body));
    return this.#values;
  }
}

/** A text column as it was stored. Its texts are decoded when they are first asked for, which replays seldom do. */
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
    this.#codes ??= codesFrom(this.#width, copyOf(this.#body.subarray(this.#codesAt)));
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

/** All texts are decoded at once and cut apart; one by one only where characters are not bytes. */
function decodeTexts({ texts, ends }: TextBytes): string[] {
  const whole = decoder.decode(texts);
  const plain = whole.length === texts.length;
  const dictionary = new Array<string>(ends.length);
  let start = 0;
  for (let index = 0; index < ends.length; index++) {
    const end = ends[index] as number;
    dictionary[index] = plain ? whole.slice(start, end) : decoder.decode(texts.subarray(start, end));
    start = end;
  }
  return dictionary;
}

function codesFrom(width: number, buffer: ArrayBufferLike): Codes {
  if (width === 4) return new Uint32Array(buffer);
  return new Uint32Array(width === 1 ? new Uint8Array(buffer) : new Uint16Array(buffer));
}

/** The bytes that a code takes: as few as the highest of them needs. */
function widthOf(column: TextColumn | AddressColumn): 1 | 2 | 4 {
  const highest = column.type === 'address' ? addressCodes(column) - 1 : column.dictionary.length;
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
  const codes = codesFrom(width, copyOf(body.subarray(codesAt)));
  return { type: 'address', four: words(8, sixAt), six: words(sixAt, codesAt), codes };
}

function bytesOf(array: Float64Array | Uint8Array | Uint16Array | Uint32Array): Uint8Array {
  return new Uint8Array(array.buffer, array.byteOffset, array.byteLength);
}
