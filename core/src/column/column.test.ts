import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  AddressColumnBuilder,
  type Column,
  type ColumnTable,
  decodeTable,
  encodeTable,
  LayoutError,
  type NumberColumn,
  numberAt,
  TextColumnBuilder,
} from './index.js';

function table(): ColumnTable {
  const text = new TextColumnBuilder(3);
  text.set(0, 'a');
  text.set(2, 'ü');
  const addresses = new AddressColumnBuilder(3);
  addresses.set(0, { family: 6, words: [1, 2, 3, 4] });
  addresses.set(1, { family: 4, value: 0xc6120001 });
  return {
    rows: 3,
    columns: new Map<string, Column>([
      ['text', text.build(3)],
      ['number', { type: 'number', values: Float64Array.of(1.5, Number.NaN, 3) }],
      ['address', addresses.build(3)],
    ]),
  };
}

/** A table as plain data: columns that are decoded on first use are decoded. */
const plain = ({ rows, columns }: ColumnTable) => ({
  rows,
  columns: [...columns].map(([name, column]) =>
    column.type === 'text'
      ? [name, [...column.dictionary], column.codes]
      : column.type === 'number'
        ? [name, column.values]
        : [name, column],
  ),
});

describe('the layout of a table', () => {
  it('gives back every kind of column', () => {
    expect(plain(decodeTable(encodeTable(table())))).toEqual(plain(table()));
  });

  it('reads one number without all others, however they are stored', () => {
    const rows = fc.array(fc.oneof(fc.constant(Number.NaN), fc.nat(300), fc.nat(2 ** 40), fc.double()), {
      maxLength: 9,
    });
    fc.assert(
      fc.property(fc.oneof(rows, fc.array(fc.nat(250)), fc.array(fc.nat(60_000))), (given) => {
        const values = Float64Array.from(given);
        const one: ColumnTable = { rows: values.length, columns: new Map([['n', { type: 'number', values }]]) };
        const column = decodeTable(encodeTable(one)).columns.get('n') as NumberColumn;
        expect(given.map((_, row) => numberAt(column, row))).toEqual(given);
        expect([...column.values]).toEqual(given);
        expect(given.map((_, row) => numberAt(column, row))).toEqual(given);
      }),
    );
  });

  it('is the same bytes for the same table, with the version at its place', () => {
    const bytes = encodeTable(table());
    expect(bytes).toEqual(encodeTable(table()));
    expect([...bytes.subarray(0, 12)]).toEqual([...new TextEncoder().encode('JFCT'), 3, 0, 3, 0, 3, 0, 0, 0]);
  });

  it('is refused, and not misread, where it is cut off, damaged or of a later version', () => {
    const bytes = encodeTable(table());
    for (let length = 0; length < bytes.length; length++)
      expect(() => decodeTable(bytes.subarray(0, length))).toThrow(LayoutError);
    expect(() => decodeTable(Uint8Array.from(bytes, (byte, at) => (at === 4 ? 4 : byte)))).toThrow('version 4');
    expect(() => decodeTable(Uint8Array.from(bytes, (byte, at) => (at === 8 ? 9 : byte)))).toThrow(LayoutError);
    expect(() => decodeTable(Uint8Array.from(bytes, (byte, at) => (at === 12 ? 77 : byte)))).toThrow(LayoutError);
  });

  it('takes wider codes for larger dictionaries', () => {
    for (const [size, width] of [
      [255, 1],
      [256, 2],
      [65_536, 4],
    ] as const) {
      const builder = new TextColumnBuilder(size);
      for (let row = 0; row < size; row++) builder.set(row, `value ${row}`);
      const made = { rows: size, columns: new Map([['text', builder.build(size)]]) };
      expect(encodeTable(made)[13]).toBe(width);
      expect(plain(decodeTable(encodeTable(made)))).toEqual(plain(made));
    }
  });
});
