const HOUR_MS = 3_600_000;

/** The instant at which the hour ends that begins at an instant. */
export const hourAfter = (hour: string): string => new Date(Date.parse(hour) + HOUR_MS).toISOString();
