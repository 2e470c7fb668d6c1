import type { Column, ColumnTable, TextColumn } from './column.js';

/*
 * The binary layout of a column table, version 1; `docs/layout.md` tells it in full. All numbers are little-endian.
 *
 *   "JFCT"  u16 version  u16 columns  u32 rows
 *   each column:  u8 kind  u8 width  u16 name bytes  u32 body bytes  name (UTF-8)  body
 */
const MAGIC = 'JFCT';
const VERSION = 1;
const HEAD = 12;
const COLUMN_HEAD = 8;
const KINDS = ['text', 'number', 'small', 'bits'] as const satisfies readonly Column['type'][];

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
    view.setUint8(at + 1, column.type === 'text' ? column.codes.BYTES_PER_ELEMENT : 0);
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
  if (version !== VERSION) throw new LayoutError(`layout version ${version} is not known here`);
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
    case 'small':
      return bytesOf(column.values);
    case 'bits':
      return column.bits;
  }
}

/** u32 entries, u32 bytes of text, u32 end of each entry, the entries in UTF-8, then a code a row. */
function textBody({ dictionary, codes }: TextColumn): Uint8Array {
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
  const sized = (bytes: Uint8Array, expected: number) => {
    if (bytes.length !== expected) throw new LayoutError('a column does not have one value a row');
    // A copy, so that it is aligned; `slice` would share memory where the bytes are a Node Buffer.
    return new Uint8Array(bytes).buffer;
  };
  switch (kind) {
    case 'text':
      return textColumn(width, body, (codes) => sized(codes, rows * width));
    case 'number':
      return { type: kind, values: new Float64Array(sized(body, rows * 8)) };
    case 'small':
      return { type: kind, values: new Uint16Array(sized(body, rows * 2)) };
    case 'bits':
      return { type: kind, bits: new Uint8Array(sized(body, Math.ceil(rows / 8))) };
    case undefined:
      throw new LayoutError('a column is of a kind not known here');
  }
}

function textColumn(width: number, body: Uint8Array, sized: (codes: Uint8Array) => ArrayBufferLike): TextColumn {
  const view = new DataView(body.buffer, body.byteOffset, body.byteLength);
  const entries = view.getUint32(0, true);
  const textsAt = 8 + entries * 4;
  const codesAt = textsAt + view.getUint32(4, true);
  if (codesAt > body.length) throw new LayoutError('a dictionary is cut off');
  const dictionary: string[] = [];
  let start = 0;
  for (let index = 0; index < entries; index++) {
    const end = view.getUint32(8 + index * 4, true);
    dictionary.push(decoder.decode(body.subarray(textsAt + start, textsAt + end)));
    start = end;
  }
  const buffer = sized(body.subarray(codesAt));
  const codes = width === 1 ? new Uint8Array(buffer) : width === 2 ? new Uint16Array(buffer) : new Uint32Array(buffer);
  return { type: 'text', dictionary, codes };
}

function bytesOf(array: Float64Array | Uint8Array | Uint16Array | Uint32Array): Uint8Array {
  return new Uint8Array(array.buffer, array.byteOffset, array.byteLength);
}
