import { deflateRawSync, inflateRawSync } from 'node:zlib';
import { expect, it } from 'vitest';
import { type Column, type ColumnTable, decodeTable, encodeTable, type Packing, packedBodies } from './index.js';

const ROWS = 65_536;
/** Numbers without any order, the same each time (Park and Miller, "Random number generators", 1988). */
const noise = Array.from({ length: ROWS }, () => 0).reduce<number[]>((made) => {
  made.push(((made.at(-1) ?? 1) * 48_271) % 2_147_483_647);
  return made;
}, []);

/** Deflates for real, and notes of how much it was asked. */
function noting(): { readonly packing: Packing; readonly asked: number[] } {
  const asked: number[] = [];
  const pack = (body: Uint8Array) => {
    asked.push(body.length);
    return deflateRawSync(body, { level: 1 });
  };
  return { packing: { pack, unpack: (packed) => inflateRawSync(packed) }, asked };
}

const tableOf = (values: readonly number[]): ColumnTable => ({
  rows: values.length,
  columns: new Map<string, Column>([['n', { type: 'number', values: Float64Array.from(values) }]]),
});

const valuesOf = (table: ColumnTable): number[] => {
  const column = table.columns.get('n');
  return column?.type === 'number' ? [...column.values] : [];
};

it.each([
  ['packs what gets smaller by half', noise.map((each) => (each % 100 === 0 ? 1 : 0)), 1],
  ['leaves what hardly gains as it is', noise, 0],
  ['tries a short one as a whole', noise.slice(0, 2000), 0],
])('%s', (_, values, packed) => {
  const { packing } = noting();
  const bytes = encodeTable(tableOf(values), packing);
  expect(packedBodies(bytes).length).toBe(packed);
  expect(valuesOf(decodeTable(bytes, packing))).toEqual(values);
});

it('asks about a part of a long column first, and of no more where that part gains nothing', () => {
  const { packing, asked } = noting();
  encodeTable(tableOf(noise), packing);
  expect(asked.length).toBe(1);
  expect(asked[0]).toBeLessThan(ROWS / 4);
});
