import fc from 'fast-check';
import { expect, it } from 'vitest';
import { Kernel } from '../kernel/index.js';
import type { Column, ColumnTable } from './column.js';
import { decodeTable } from './decode-table.js';
import { encodeTable } from './encode-table.js';
import { rowKinds, rowKindsIn, rowKindsOfExamples } from './row-kinds.js';

const TEXTS = ['', 'a', 'b', 'c'];
const text = (codes: readonly number[]): Column => ({
  type: 'text',
  dictionary: TEXTS,
  codes: Uint32Array.from(codes),
});
const number = (values: readonly number[]): Column => ({ type: 'number', values: Float64Array.from(values) });

const code = fc.nat(TEXTS.length);
const port = fc.constantFrom(Number.NaN, 0, 22, 80, 443, 65_535);
const odd = fc.constantFrom(Number.NaN, 0.5, -1, 2 ** 40, 7);
const row = fc.tuple(code, code, port, odd);

function tableOf(rows: readonly (readonly [number, number, number, number])[], stored: boolean): ColumnTable {
  const column = (at: number) => rows.map((each) => each[at] as number);
  const table = {
    rows: rows.length,
    columns: new Map([
      ['host', text(column(0))],
      ['method', text(column(1))],
      ['port', number(column(2))],
      ['status', number(column(3))],
      ['path', text(column(1))],
    ]),
  };
  return stored ? decodeTable(encodeTable(table)) : table;
}

it('are the same where rows hold the same, and only there', () => {
  fc.assert(
    fc.property(fc.array(row, { minLength: 1 }), fc.boolean(), (rows, stored) => {
      const kinds = rowKinds(tableOf(rows, stored), new Kernel());
      const held = rows.map(([host, method, port, odd]) =>
        [host, method, port, kinds.holds('status') ? odd : ''].join(),
      );
      const first = new Map(held.map((each, at): [string, number] => [each, at]).reverse());
      expect([...kinds.codes].map((kind) => kinds.examples[kind])).toEqual(held.map((each) => first.get(each)));
      expect(kinds.examples.length).toBe(first.size);
    }),
  );
});

it('hold what all columns of few values say, and those that are not there', () => {
  const table = tableOf([[1, 1, 80, 7]], false);
  const kinds = rowKinds(table, new Kernel());
  expect(['host', 'method', 'port', 'status', 'scheme', 'header.x'].filter((name) => !kinds.holds(name))).toEqual([]);
  expect(kinds.holds('path')).toBe(false);
});

it('leave out numbers that are large or not whole, and texts of which there are too many', () => {
  const many = 500;
  const rows = Array.from({ length: many }, (_, at) => at);
  const dictionary = rows.map(String);
  const columns = new Map<string, Column>([
    ['host', { type: 'text', dictionary, codes: Uint32Array.from(rows, (at) => at + 1) }],
    ['method', { type: 'text', dictionary, codes: Uint32Array.from(rows, (at) => at + 1) }],
    ['port', number(rows.map(() => 0.5))],
  ]);
  const kinds = rowKinds({ rows: many, columns }, new Kernel());
  expect(['host', 'method', 'port'].map((name) => kinds.holds(name))).toEqual([true, false, false]);
});

it('of some rows are those of all', () => {
  const all = rowKinds(
    tableOf(
      [
        [1, 1, 80, 7],
        [2, 1, 80, 7],
        [1, 1, 80, 7],
      ],
      false,
    ),
    new Kernel(),
  );
  const some = rowKindsIn(all, Uint32Array.of(1, 2));
  expect([...some.codes]).toEqual([1, 0]);
  expect(some.examples).toBe(all.examples);
  expect([some.holds('host'), some.holds('path')]).toEqual([true, false]);
  // Each example is of its own kind, whichever rows the kinds are of.
  expect([...rowKindsOfExamples(some).codes]).toEqual([0, 1]);
});

it('of no rows are none', () => {
  const kinds = rowKinds({ rows: 0, columns: new Map([['host', text([])]]) }, new Kernel());
  expect([kinds.codes.length, kinds.examples.length]).toEqual([0, 0]);
});
