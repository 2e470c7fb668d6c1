const RFC_3339 = /^(\d{4})-(\d\d)-(\d\d)[Tt ](\d\d):(\d\d):(\d\d)(\.\d+)?([Zz]|[+-]\d\d:\d\d)$/;

/** Milliseconds since 1970 of a time of RFC 3339, or undefined. A leap second counts as the second after it. */
export function parseTime(text: string): number | undefined {
  const found = RFC_3339.exec(text);
  if (!found) return undefined;
  const [, year, month, day, hour, minute, second, fraction = '', zone] = found as unknown as string[];
  if (Number(hour) > 23 || Number(minute) > 59 || Number(second) > 60) return undefined;
  const start = Date.UTC(Number(year), Number(month) - 1, Number(day), Number(hour), Number(minute), Number(second));
  const midnight = new Date(Date.UTC(Number(year), Number(month) - 1, Number(day)));
  if (midnight.getUTCMonth() !== Number(month) - 1 || midnight.getUTCDate() !== Number(day)) return undefined;
  return start + Math.floor(Number(`0${fraction}`) * 1000) - offsetOf(zone as string);
}

function offsetOf(zone: string): number {
  if (/z/i.test(zone)) return 0;
  const minutes = Number(zone.slice(1, 3)) * 60 + Number(zone.slice(4, 6));
  return (zone.startsWith('-') ? -minutes : minutes) * 60_000;
}
