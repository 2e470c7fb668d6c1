import type { AddressColumn, Column, ColumnTable, TextColumn } from './column.js';
import { COLUMN_HEAD, HEAD, KINDS, type Kind, MAGIC, OLDEST, PACKED, type StoredColumn, VERSION } from './layout.js';
import { LayoutError } from './layout-error.js';
import { type Packing, unpackedLater } from './packed.js';
import { alignedCopy, codesFrom, StoredNumberColumn, StoredTextColumn } from './stored-column.js';
import { codedWhole, readWhole, readWholeAt, requireWhole } from './whole.js';

const decoder = new TextDecoder('utf-8', { ignoreBOM: true });

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

interface NamedColumn extends StoredColumn {
  readonly name: string;
  readonly packed: boolean;
}

function columnOf(kind: Kind, width: number, body: Uint8Array, rows: number): Column {
  switch (kind) {
    case 'text':
      return textColumn(width, body, rows);
    case 'number':
      requireSize(body, rows * 8);
      return new StoredNumberColumn({ all: () => new Float64Array(alignedCopy(body)) });
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

function textColumn(width: number, body: Uint8Array, rows: number): TextColumn {
  const view = new DataView(body.buffer, body.byteOffset, body.byteLength);
  const entries = view.getUint32(0, true);
  const textsAt = 8 + entries * 4;
  const codesAt = textsAt + view.getUint32(4, true);
  if (codesAt > body.length) throw new LayoutError('a dictionary is cut off');
  requireSize(body.subarray(codesAt), rows * width);
  return new StoredTextColumn(body, width, textsAt, codesAt);
}

function addressColumn(width: number, body: Uint8Array, rows: number): AddressColumn {
  const view = new DataView(body.buffer, body.byteOffset, body.byteLength);
  const sixAt = 8 + view.getUint32(0, true) * 4;
  const codesAt = sixAt + view.getUint32(4, true) * 16;
  if (codesAt + rows * width !== body.length) throw new LayoutError('a column of addresses is cut off');
  const words = (from: number, to: number) => new Uint32Array(alignedCopy(body.subarray(from, to)));
  const codes = codesFrom(width, body.subarray(codesAt));
  return { type: 'address', four: words(8, sixAt), six: words(sixAt, codesAt), codes };
}
