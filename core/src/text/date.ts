/** A day of the calendar, as the number of days since 1970-01-01. */
export type CalendarDate = number;

const DAY = 86_400_000;

/** Reads a full-date of RFC 3339, such as `2026-12-25`; undefined where it is none. */
export function parseDate(text: string): CalendarDate | undefined {
  const found = /^(\d{4})-(\d\d)-(\d\d)$/.exec(text);
  if (!found) return undefined;
  const instant = Date.UTC(Number(found[1]), Number(found[2]) - 1, Number(found[3]));
  return new Date(instant).getUTCMonth() === Number(found[2]) - 1 ? instant / DAY : undefined;
}

/** The day as `2026-11-01`. */
export const formatDate = (date: CalendarDate): string => new Date(date * DAY).toISOString().slice(0, 10);
