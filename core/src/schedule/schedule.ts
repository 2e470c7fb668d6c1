import type { CalendarDate } from '../text/index.js';

/** Spans in the week, in a time zone, with dated exceptions. */
export interface Schedule {
  readonly type: 'schedule';
  readonly name: string;
  readonly file: string;
  readonly note: string | undefined;
  /** A time zone of the IANA database. */
  readonly zone: string;
  /** The spans of each day, Monday first. */
  readonly weekly: readonly (readonly DaySpan[])[];
  /** Days that have spans of their own; none: closed. */
  readonly except: ReadonlyMap<CalendarDate, readonly DaySpan[]>;
}

/**
 * From one minute of the day up to another, which is not included. A span whose `end` is not behind its `start` runs
 * over midnight, and belongs to the day that it starts on.
 */
export interface DaySpan {
  readonly start: number;
  readonly end: number;
}

export const DAYS = ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun'] as const;
export const MINUTES_A_DAY = 1440;

/** How many minutes the span lasts on a day without a change of the clocks. */
export const spanMinutes = ({ start, end }: DaySpan): number =>
  end > start ? end - start : MINUTES_A_DAY - start + end;

const clock = (minute: number): string =>
  `${String(Math.floor(minute / 60)).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}`;

/** The span as schedules write it: `09:00-12:00`. */
export const formatSpan = ({ start, end }: DaySpan): string => `${clock(start)}-${clock(end)}`;
