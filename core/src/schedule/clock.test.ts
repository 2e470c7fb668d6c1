import fc from 'fast-check';
import { expect, it } from 'vitest';
import { instantIn } from './clock.js';

/** What clocks in the zone show, as if it were UTC, given by the platform's own calendar. */
function shown(zone: string, instant: number): number {
  const parts = new Intl.DateTimeFormat('en-GB', {
    timeZone: zone,
    hourCycle: 'h23',
    ...({ year: 'numeric', month: '2-digit', day: '2-digit', hour: '2-digit', minute: '2-digit' } as const),
  }).formatToParts(instant);
  const part = (type: string) => Number(parts.find((each) => each.type === type)?.value);
  return Date.UTC(part('year'), part('month') - 1, part('day'), part('hour'), part('minute'));
}

const ZONES = ['UTC', 'Europe/Lisbon', 'America/New_York', 'Asia/Kathmandu', 'Australia/Lord_Howe', 'Pacific/Apia'];

it('finds an instant at which clocks show the time that they show', () => {
  const minute = fc.integer({ min: Date.UTC(2000, 0) / 60_000, max: Date.UTC(2040, 0) / 60_000 });
  fc.assert(
    fc.property(fc.constantFrom(...ZONES), minute, (zone, at) => {
      const local = shown(zone, at * 60_000);
      expect(shown(zone, instantIn(zone, local))).toBe(local);
    }),
    { numRuns: 500 },
  );
});

it('takes the first of two, and the offset before where clocks pass over a time', () => {
  const text = (zone: string, local: string) => new Date(instantIn(zone, Date.parse(`${local}Z`))).toISOString();
  expect(text('Europe/Lisbon', '2026-10-25T01:30:00')).toBe('2026-10-25T00:30:00.000Z');
  expect(text('Europe/Lisbon', '2026-03-29T01:30:00')).toBe('2026-03-29T01:30:00.000Z');
  expect(text('UTC', '2026-03-29T01:30:00')).toBe('2026-03-29T01:30:00.000Z');
});
