import type { AddressColumn, Column, ColumnTable, TextBytes, TextColumn } from './column.js';
import { addressCodes } from './joined-addresses.js';
import { COLUMN_HEAD, HEAD, KINDS, MAGIC, PACKED, type StoredColumn, VERSION } from './layout.js';
import type { Packing } from './packed.js';
import { textCodes } from './texts.js';
import { wholeBody } from './whole.js';

/** A body is kept packed where that makes it so much smaller; else unpacking it would cost more than it saves. */
const WORTH_PACKING = 0.5;
/** A sample of this many bytes from the middle of a large body shows whether packing all of it is worth it. */
const SAMPLE = 8192;

const encoder = new TextEncoder();

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

/** The bytes that a code takes: as few as the highest of them needs. */
function widthOf(column: TextColumn | AddressColumn): 1 | 2 | 4 {
  const highest = (column.type === 'address' ? addressCodes(column) : textCodes(column)) - 1;
  return highest < 0x100 ? 1 : highest < 0x10000 ? 2 : 4;
}

function narrowed(column: TextColumn | AddressColumn): Uint8Array | Uint16Array | Uint32Array {
  const width = widthOf(column);
  return width === 1 ? new Uint8Array(column.codes) : width === 2 ? new Uint16Array(column.codes) : column.codes;
}

function bytesOf(array: Float64Array | Uint8Array | Uint16Array | Uint32Array): Uint8Array {
  return new Uint8Array(array.buffer, array.byteOffset, array.byteLength);
}
