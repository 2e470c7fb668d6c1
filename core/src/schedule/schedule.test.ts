import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readWorkspace } from '../workspace/index.js';
import { type Schedule, scheduleHolds, scheduleSentence } from './index.js';

function scheduleOf(text: string): Schedule {
  const { workspace, issues } = readWorkspace([{ name: 's.yaml', text: `schedule: s\n${text}` }]);
  expect(issues).toEqual([]);
  return workspace.schedules.get('s') as Schedule;
}

const holds = (schedule: Schedule, ...times: string[]) =>
  times.map((time) => scheduleHolds(schedule, Date.parse(time)));

describe('a schedule', () => {
  it('holds within its spans, by the clocks of its zone, the end not included', () => {
    const office = scheduleOf('zone: Europe/Lisbon\nweekly: {mon-fri: ["09:00-12:00", "14:00-18:00"]}');
    // In summer Lisbon is an hour ahead of UTC, in winter it is not.
    expect(
      holds(office, '2026-07-06T07:59:59Z', '2026-07-06T08:00:00Z', '2026-07-06T10:59:59Z', '2026-07-06T11:00:00Z'),
    ).toEqual([false, true, true, false]);
    expect(
      holds(office, '2026-12-07T08:59:59Z', '2026-12-07T09:00:00Z', '2026-12-07T13:00:00Z', '2026-12-05T10:00:00Z'),
    ).toEqual([false, true, false, false]);
  });

  it('runs over midnight into the next day, and follows the exceptions of the day that it starts on', () => {
    const night = scheduleOf(
      'zone: UTC\nweekly: {fri: ["22:00-02:00"]}\nexcept: {2026-11-27: closed, 2026-12-05: ["10:00-11:00"]}',
    );
    expect(
      holds(night, '2026-11-20T21:59:00Z', '2026-11-20T22:00:00Z', '2026-11-21T01:59:00Z', '2026-11-21T02:00:00Z'),
    ).toEqual([false, true, true, false]);
    expect(holds(night, '2026-11-27T23:00:00Z', '2026-11-28T01:00:00Z')).toEqual([false, false]);
    // The fifth has hours of its own, and the night before still ends in it.
    expect(holds(night, '2026-12-05T01:00:00Z', '2026-12-05T10:30:00Z')).toEqual([true, true]);
  });

  it('takes the hour that comes twice both times, and the one that is left out never', () => {
    const early = scheduleOf('zone: Europe/Lisbon\nweekly: {sun: ["01:00-02:00"]}');
    // On 25 October 2026 clocks go back from 02:00 to 01:00; on 29 March from 01:00 on to 02:00.
    expect(holds(early, '2026-10-25T00:30:00Z', '2026-10-25T01:30:00Z', '2026-10-25T02:30:00Z')).toEqual([
      true,
      true,
      false,
    ]);
    expect(holds(early, '2026-03-29T00:59:59Z', '2026-03-29T01:00:00Z')).toEqual([false, false]);
  });

  it('agrees with what Intl says of the local time, minute for minute', () => {
    const zones = ['Europe/Lisbon', 'Asia/Kathmandu', 'America/St_Johns', 'Pacific/Chatham', 'UTC'];
    const instant = fc.integer({ min: Date.UTC(2000, 0, 1), max: Date.UTC(2037, 0, 1) });
    fc.assert(
      fc.property(fc.constantFrom(...zones), instant, (zone, at) => {
        const schedule = scheduleOf(`zone: ${zone}\nweekly: {mon-sun: ["06:30-18:45"]}`);
        const text = new Intl.DateTimeFormat('en-GB', { timeZone: zone, hour: '2-digit', minute: '2-digit' }).format(
          at,
        );
        expect(scheduleHolds(schedule, at)).toBe(text >= '06:30' && text < '18:45');
      }),
      { numRuns: 300 },
    );
  });

  it('is described in a sentence', () => {
    expect(
      scheduleSentence(
        scheduleOf(
          'zone: Europe/Lisbon\nweekly: {mon-fri: ["09:00-12:00", "14:00-18:00"], sat-sun: open}\nexcept: {2026-12-25: closed}',
        ),
      ),
    ).toBe(
      'Monday to Friday 09:00-12:00 and 14:00-18:00; Saturday to Sunday all day (Europe/Lisbon); except 2026-12-25 closed.',
    );
    expect(scheduleSentence(scheduleOf('zone: UTC\nweekly: {mon: ["22:00-02:00"]}'))).toBe(
      'Monday 22:00-02:00 (over midnight) (UTC).',
    );
  });
});
