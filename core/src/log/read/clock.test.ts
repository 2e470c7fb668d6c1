import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readClock } from './combined.js';

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
const two = (number: number) => String(number).padStart(2, '0');

/** The instant as a server in the zone writes it. */
function written(instant: number, zoneMinutes: number): string {
  const at = new Date(instant + zoneMinutes * 60_000);
  const zone = Math.abs(zoneMinutes);
  const day = `${two(at.getUTCDate())}/${MONTHS[at.getUTCMonth()]}/${at.getUTCFullYear()}`;
  const time = [at.getUTCHours(), at.getUTCMinutes(), at.getUTCSeconds()].map(two).join(':');
  return `${day}:${time} ${zoneMinutes < 0 ? '-' : '+'}${two(Math.floor(zone / 60))}${two(zone % 60)}`;
}

describe('the clock of the combined format', () => {
  it('is read as the instant that it was written at, whatever was read before it', () => {
    const instants = fc.integer({ min: Date.UTC(1970), max: Date.UTC(2099, 11, 31) / 1000 }).map((each) => each * 1000);
    const zones = fc.constantFrom(0, 60, -60, 330, -570, 345, 840);
    fc.assert(
      fc.property(fc.array(fc.tuple(instants, zones), { minLength: 1, maxLength: 8 }), (all) => {
        // Twice the same and two zones of one hour, since what was read last is remembered.
        for (const [instant, zone] of [...all, ...all])
          for (const other of [zone, 0, zone]) expect(readClock(written(instant, other))).toBe(instant);
      }),
    );
  });

  it.each([
    '12/Nov/2026:24:00:00 +0000',
    '12/Nov/2026:09:60:00 +0000',
    '12/Nov/2026:09:00:61 +0000',
    '31/Feb/2026:09:00:00 +0000',
    '00/Nov/2026:09:00:00 +0000',
    '12/nov/2026:09:00:00 +0000',
    '12/Nov/2026:09:00:0x +0000',
    '12/Nov/2026:09:-1:00 +0000',
    '12/Nov/2026:09 00:00 +0000',
    '12/Nov/2026:09:00:00 0000+',
    '12/Nov/2026:09:00:00+00000',
    '12/Nov/2026:09:00:00 +000',
    '12/Nov/2026:09:00:00 +00000',
    '1/Nov/2026:09:00:00 +0000',
    '',
  ])('is none in %j, nor after a good one', (text) => {
    expect(readClock('12/Nov/2026:09:00:00 +0000')).toBe(Date.UTC(2026, 10, 12, 9));
    expect(readClock(text)).toBeUndefined();
  });
});
