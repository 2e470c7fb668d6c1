import { BoundedMap } from '../memo/index.js';
import type { CalendarDate } from '../text/index.js';

/** The time of clocks and calendars in a time zone at an instant. */
export interface LocalTime {
  readonly date: CalendarDate;
  /** The minute of the day, 0 to 1439. */
  readonly minute: number;
}

const MINUTE = 60_000;
const DAY = 86_400_000;
/** Clocks change at quarters of an hour at the finest, so that what holds at its start holds for all of one. */
const QUARTER = 15 * MINUTE;
const MOST_QUARTERS = 100_000;

const offsets = new Map<string, ZoneOffsets>();

/** The local time in a zone of the IANA database, at milliseconds since 1970. */
export function localTime(zone: string, instant: number): LocalTime {
  const local = instant + zoneOffsets(zone).at(instant);
  const date = Math.floor(local / DAY);
  return { date, minute: Math.floor((local - date * DAY) / MINUTE) };
}

function zoneOffsets(zone: string): ZoneOffsets {
  let known = offsets.get(zone);
  if (known === undefined) {
    known = new ZoneOffsets(zone);
    offsets.set(zone, known);
  }
  return known;
}

/** 0 for Monday to 6 for Sunday. The first day of 1970 was a Thursday. */
export const weekday = (date: CalendarDate): number => (((date + 3) % 7) + 7) % 7;

/** The offsets of a zone from UTC in milliseconds, each computed once. */
class ZoneOffsets {
  readonly #format: Intl.DateTimeFormat;
  readonly #known = new BoundedMap<number, number>(MOST_QUARTERS);

  constructor(zone: string) {
    const two = '2-digit' as const;
    const fields = { year: 'numeric', month: two, day: two, hour: two, minute: two, second: two } as const;
    this.#format = new Intl.DateTimeFormat('en-US', { timeZone: zone, hourCycle: 'h23', era: 'short', ...fields });
  }

  at(instant: number): number {
    const quarter = Math.floor(instant / QUARTER);
    return this.#known.of(quarter, () => this.#ask(quarter * QUARTER));
  }

  #ask(instant: number): number {
    const shown: Partial<Record<Intl.DateTimeFormatPartTypes, string>> = {};
    for (const { type, value } of this.#format.formatToParts(instant)) shown[type] = value;
    const year = shown.era === 'BC' ? 1 - Number(shown.year) : Number(shown.year);
    const [month, day] = [Number(shown.month) - 1, Number(shown.day)];
    return Date.UTC(year, month, day, Number(shown.hour), Number(shown.minute), Number(shown.second)) - instant;
  }
}

/**
 * The instant at which clocks in the zone show a time, which is given as if it were UTC. Of a time that they show twice
 * it is the first; one that they pass over counts by the offset before.
 */
export function instantIn(zone: string, local: number): number {
  if (zone === 'UTC') return local;
  const known = zoneOffsets(zone);
  const before = local - known.at(local - DAY);
  if (known.at(before) === local - before) return before;
  const after = local - known.at(local + DAY);
  return known.at(after) === local - after ? after : before;
}
