import fc from 'fast-check';
import { expect, it } from 'vitest';
import { type Address, formatAddress } from '../../address/index.js';
import { type AddressColumn, AddressColumnBuilder, addressCodes } from '../../column/index.js';
import { Kernel } from '../../kernel/index.js';
import { ClientTally, countClients } from './client-tally.js';
import { ANSWERS, countCoded } from './share-tally.js';

const client: fc.Arbitrary<Address | undefined> = fc.oneof(
  fc.constant(undefined),
  fc.constantFrom(0, 1, 0x0a000001, 0xfffffffe, 0xffffffff).map((value) => ({ family: 4 as const, value })),
  fc.constantFrom(0, 1, 0xffffffff).map((last) => ({ family: 6 as const, words: [0x20010db8, 0, 0, last] as const })),
);
const row = fc.record({ client, answer: fc.nat(ANSWERS.length - 1) });

const kernel = new Kernel();
const counted = (column: AddressColumn, answers: Uint8Array) =>
  countClients(column, countCoded(kernel, column.codes, addressCodes(column), answers));

it('counts every client by answer, in as many chunks as come', () => {
  fc.assert(
    fc.property(fc.array(fc.array(row, { minLength: 1, maxLength: 30 }), { maxLength: 5 }), (chunks) => {
      const tally = new ClientTally();
      const expected = new Map<string | null, number[]>();
      for (const rows of chunks) {
        const column = new AddressColumnBuilder(rows.length);
        rows.forEach(({ client: address, answer }, at) => {
          if (address) column.set(at, address);
          const key = address ? formatAddress(address) : null;
          const counts = expected.get(key) ?? ANSWERS.map(() => 0);
          counts[answer] = (counts[answer] as number) + 1;
          expected.set(key, counts);
        });
        const answers = Uint8Array.from(rows, ({ answer }) => answer);
        tally.add(counted(column.build(rows.length), answers));
      }
      const { rows, more, beyond } = tally.breakdown(100);
      expect([more, beyond]).toEqual([0, 0]);
      expect(new Map(rows.map(({ key, ...share }) => [key, ANSWERS.map((answer) => share[answer])]))).toEqual(expected);
      for (const { requests, ...share } of rows)
        expect(requests).toBe(ANSWERS.reduce((sum, answer) => sum + share[answer], 0));
      // The first are the first of all.
      expect(tally.breakdown(2).rows).toEqual(rows.slice(0, 2));
      expect(tally.breakdown(2).more).toBe(Math.max(0, rows.length - 2));
    }),
  );
});

it('keeps the clients with most requests where there are too many, and counts the rest together', () => {
  const tally = new ClientTally(40);
  const often = 5;
  for (let chunk = 0; chunk < 20; chunk++) {
    // Five clients come in every chunk, and ten come once.
    const values = Array.from({ length: 10 }, (_, at) => 1000 + chunk * 10 + at);
    for (let value = 0; value < often; value++) values.push(value, value);
    const column = new AddressColumnBuilder(values.length);
    values.forEach((value, at) => {
      column.set(at, { family: 4, value });
    });
    tally.add(counted(column.build(values.length), new Uint8Array(values.length)));
  }
  const { rows, more, beyond } = tally.breakdown(often);
  expect(rows.map(({ key, requests }) => [key, requests])).toEqual(
    [0, 1, 2, 3, 4].map((last) => [`0.0.0.${last}`, 40]),
  );
  const whole = tally.breakdown(1000).rows.reduce((sum, { requests }) => sum + requests, 0);
  expect(whole + beyond).toBe(20 * 20);
  expect(more).toBeLessThanOrEqual(40);
});
