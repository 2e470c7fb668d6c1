import type { CalendarDate } from '../text/index.js';
import { localTime, weekday } from './clock.js';
import type { DaySpan, Schedule } from './schedule.js';

/**
 * Whether the instant, in milliseconds since 1970, lies in the schedule, by what the clocks of its zone show: an hour
 * that comes twice is in both times, and one that is left out is in never. The part of a span behind midnight belongs
 * to the day before, whose exception it follows.
 */
export function scheduleHolds(schedule: Schedule, instant: number): boolean {
  const { date, minute } = localTime(schedule.zone, instant);
  for (const { start, end } of spansOf(schedule, date))
    if (minute >= start && (minute < end || end <= start)) return true;
  for (const { start, end } of spansOf(schedule, date - 1)) if (end <= start && minute < end) return true;
  return false;
}

/** The spans that start on the date. */
export function spansOf({ weekly, except }: Schedule, date: CalendarDate): readonly DaySpan[] {
  return except.get(date) ?? weekly[weekday(date)] ?? [];
}
