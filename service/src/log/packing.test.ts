import { deflateSync } from 'node:zlib';
import { type ColumnTable, encodeTable, packedBodies } from '@jade-fence/core/column';
import { ChunkBuilder, ChunkRows } from '@jade-fence/core/log';
import { makeRequest } from '@jade-fence/core/request';
import { expect, it } from 'vitest';
import { packTable, unpackTable, unpackTableAside } from './packing.js';

function table(): ColumnTable {
  const builder = new ChunkBuilder();
  for (let row = 0; row < 3000; row++)
    builder.add(
      makeRequest({
        host: `h${row % 7}.fennelhill.example`,
        path: `/beds/${row % 300}`,
        status: row % 11 === 0 ? undefined : 200 + (row % 3),
        time: Date.UTC(2026, 10, 9) + row * 1000,
        headers: new Map([['x-forwarded-for', [`198.18.${row % 200}.7`]]]),
      }),
      row + 1,
    );
  return builder.build();
}

const plain = (read: ColumnTable) => {
  const rows = new ChunkRows(read);
  return Array.from({ length: read.rows }, (_, row) => ({ line: rows.line(row), ...rows.request(row) }));
};

it('gives a table back, smaller in between', () => {
  const packed = packTable(table());
  expect(packed.length).toBeLessThan(encodeTable(table()).length);
  expect(plain(unpackTable(packed))).toEqual(plain(table()));
});

it('gives back tables that were deflated as a whole', () => {
  const whole = deflateSync(encodeTable(table()));
  expect(plain(unpackTable(whole))).toEqual(plain(table()));
  expect(plain(unpackTableAside(whole).table)).toEqual(plain(table()));
});

it('unpacks columns beside other work, and those that are looked at before that when they are', async () => {
  // As it comes from a database: not at the start of its memory.
  const packed = Buffer.concat([Buffer.alloc(5), packTable(table())]).subarray(5);
  const { table: read, unpacked } = unpackTableAside(packed);
  const before = new ChunkRows(read).request(1).host;
  await unpacked();
  expect([before, plain(read)]).toEqual(['h1.fennelhill.example', plain(table())]);
});

it('says so where what it unpacks is damaged', async () => {
  const packed = packTable(table());
  for (const body of packedBodies(packed)) body.fill(0xff);
  await expect(unpackTableAside(packed).unpacked()).rejects.toThrow();
});
