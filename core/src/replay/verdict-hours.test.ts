import fc from 'fast-check';
import { expect, it } from 'vitest';
import { VerdictHours } from './verdict-hours.js';

const FIRST = Date.UTC(2026, 10, 9);

it('counts every request with a time once, in its hour and under its verdict', () => {
  const request = fc.tuple(fc.nat(48 * 60), fc.constantFrom('allow', 'block', 'uncovered', 'redirect'));
  fc.assert(
    fc.property(fc.array(request as fc.Arbitrary<[number, 'allow' | 'block']>), (requests) => {
      const hours = new VerdictHours();
      for (const [minute, verdict] of requests) hours.add(new Date(FIRST + minute * 60_000).toISOString(), verdict);
      const { rows, beyond } = hours.breakdown();
      expect(beyond).toBe(0);
      expect(rows.map(({ key }) => key)).toEqual(rows.map(({ key }) => key).sort());
      for (const { key, requests: all, allow } of rows) {
        const own = requests.filter(
          ([minute]) => Math.floor(minute / 60) * 3_600_000 + FIRST === Date.parse(key ?? ''),
        );
        expect([all, allow]).toEqual([own.length, own.filter(([, verdict]) => verdict === 'allow').length]);
      }
      expect(rows.reduce((sum, each) => sum + each.requests, 0)).toBe(requests.length);
    }),
  );
});

it('leaves out what has no time, and tells how many hours found no room', () => {
  const hours = new VerdictHours();
  for (const time of [undefined, null, 'soon', 5]) hours.add(time, 'allow');
  expect(hours.breakdown()).toEqual({ rows: [], more: 0, beyond: 0 });
  for (let hour = 0; hour < 2500; hour++) hours.add(new Date(FIRST + hour * 3_600_000).toISOString(), 'block');
  expect([hours.breakdown().rows.length, hours.breakdown().beyond]).toEqual([2400, 100]);
});
