import { scheduleHolds } from '@jade-fence/core/schedule';
import { readWorkspace } from '@jade-fence/core/workspace';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DAY_MINUTES, DAYS, drawnWeek, painted, readSpans, readWeek, type Week, writtenWeek } from './week.js';

const hours = (from: number, to: number) => ({ from: from * 60, to: to * 60 });

/** The minutes of the week that are in it, by quarters of an hour. */
function quarters(week: Week): boolean[] {
  return drawnWeek(week).flatMap((spans) =>
    Array.from({ length: 96 }, (_, at) => spans.some(({ from, to }) => from <= at * 15 && to > at * 15)),
  );
}

describe('a week', () => {
  it.each([
    ['ranges', { 'mon-fri': ['09:00-12:00'] }, [1, 1, 1, 1, 1, 0, 0]],
    ['a range over Sunday', { 'sat-mon': ['09:00-12:00'] }, [1, 0, 0, 0, 0, 1, 1]],
    [
      'a day of its own before its range',
      { 'mon-fri': ['09:00-12:00', '13:00-14:00'], wed: ['09:00-10:00'] },
      [2, 2, 1, 2, 2, 0, 0],
    ],
    ['the same, written the other way round', { wed: 'closed', 'mon-fri': '09:00-12:00' }, [1, 1, 0, 1, 1, 0, 0]],
    ['nothing', null, [0, 0, 0, 0, 0, 0, 0]],
  ])('of %s', (_, weekly, counts) => {
    expect(readWeek(weekly)?.map((spans) => spans.length)).toEqual(counts);
  });

  it.each([[{ someday: ['09:00-12:00'] }], [{ mon: ['9-12'] }], [{ mon: ['09:00-09:00'] }], [['mon']], ['mon']])(
    'that is %j is none',
    (weekly) => {
      expect(readWeek(weekly)).toBeUndefined();
    },
  );

  it('is written as people do', () => {
    const week = readWeek({ 'mon-fri': ['14:00-18:00', '09:00-12:00'], sat: 'open', sun: '22:00-02:00' });
    expect(writtenWeek(week as Week)).toEqual({
      'mon-fri': ['09:00-12:00', '14:00-18:00'],
      sat: ['open'],
      sun: ['22:00-02:00'],
    });
  });

  it('is drawn on both days where it runs over midnight', () => {
    const week = drawnWeek(readWeek({ sun: '22:00-02:00' }) as Week);
    expect([week[6], week[0]]).toEqual([[hours(22, 24)], [hours(0, 2)]]);
  });

  it('gets hours, and loses them again, also those of the night before', () => {
    const night = readWeek({ sun: '22:00-02:00' }) as Week;
    expect(writtenWeek(painted(night, 0, hours(1, 3), false))).toEqual({ sun: ['22:00-01:00'] });
    expect(writtenWeek(painted(night, 0, hours(0, 3), false))).toEqual({ sun: ['22:00-24:00'] });
    expect(writtenWeek(painted(night, 6, hours(20, 23), true))).toEqual({ sun: ['20:00-02:00'] });
    expect(writtenWeek(painted(night, 6, hours(20, 23), false))).toEqual({ sun: ['23:00-02:00'] });
  });

  const edit = fc.tuple(fc.nat(6), fc.nat(94), fc.integer({ min: 1, max: 24 }), fc.boolean());

  const nights = fc.array(fc.constantFrom('22:00-02:00', '20:00-23:45', '23:00-24:00', 'open', '02:00-01:00'), {
    maxLength: 2,
  });

  it('holds what was painted last, and is read back as it was written', () => {
    fc.assert(
      fc.property(
        fc.array(nights, { minLength: 7, maxLength: 7 }),
        fc.array(edit, { maxLength: 12 }),
        (begun, edits) => {
          let week = readWeek(Object.fromEntries(begun.map((spans, day) => [DAYS[day], spans]))) as Week;
          const bits = quarters(week);
          for (const [day, at, length, isOn] of edits) {
            const to = Math.min(96, at + length);
            week = painted(week, day, { from: at * 15, to: to * 15 }, isOn);
            bits.fill(isOn, day * 96 + at, day * 96 + to);
          }
          expect(quarters(week)).toEqual(bits);
          expect(readWeek(writtenWeek(week))).toEqual(week);
        },
      ),
    );
  });

  const clock = fc.constantFrom('00:00', '0:30', '02:00', '9:15', '12:00', '22:00', '23:45', '24:00', '24:01', '7:60');
  const span = fc.oneof(
    fc.constantFrom('open', 'closed', 'nine'),
    fc.tuple(clock, fc.constantFrom('-', ' - ', '–', ' –', '--'), clock).map((parts) => parts.join('')),
  );
  const key = fc.constantFrom(...DAYS, 'mon-fri', 'sat-mon', 'Tue-Wed', 'someday', 'mon-tue-wed');
  const written = fc.dictionary(key, fc.oneof(span, fc.array(span, { maxLength: 3 })), { maxKeys: 4 });

  it('is the week that the rule language has, or none where it has faults', () => {
    const monday = Date.UTC(2026, 10, 2);
    fc.assert(
      fc.property(written, (weekly) => {
        const text = `schedule: s\nzone: UTC\nweekly: ${JSON.stringify(weekly)}\n`;
        const { workspace, issues } = readWorkspace([{ name: 's.yaml', text }]);
        const week = readWeek(weekly);
        // Ranges that overlap are a fault of the whole, which the form shows beside itself.
        if (issues.every(({ code }) => code === 'overlapping-days')) expect(week).toBeDefined();
        else expect(week).toBeUndefined();
        const schedule = workspace.schedules.get('s');
        if (issues.length > 0 || !schedule || !week) return;
        const held = Array.from({ length: 7 * 96 }, (_, at) => scheduleHolds(schedule, monday + at * 900_000));
        expect(quarters(week)).toEqual(held);
      }),
      { numRuns: 300 },
    );
  });

  it('is read from what is typed', () => {
    expect(readSpans('09:00 - 12:00, 14:00 – 18:00')).toEqual([hours(9, 12), hours(14, 18)]);
    expect(readSpans('09:00-12:00, 14:00-18:00')).toEqual([hours(9, 12), hours(14, 18)]);
    expect(readSpans('22:00-06:00')).toEqual([{ from: 22 * 60, to: 6 * 60 + DAY_MINUTES }]);
    expect(readSpans('')).toEqual([]);
    expect(readSpans('nine')).toBeUndefined();
  });
});
