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
  const today = spansOf(schedule, date).some(({ start, end }) => minute >= start && (minute < end || end <= start));
  return today || spansOf(schedule, date - 1).some(({ start, end }) => end <= start && minute < end);
}

/** The spans that start on the date. */
export function spansOf({ weekly, except }: Schedule, date: CalendarDate): readonly DaySpan[] {
  return except.get(date) ?? weekly[weekday(date)] ?? [];
}
