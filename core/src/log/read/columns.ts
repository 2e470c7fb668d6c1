import { instantIn } from '../../schedule/index.js';
import { parseTime } from '../../text/time.js';
import { readClock } from './combined.js';
import type { Mapping } from './mapping.js';
import { fieldNamed } from './names.js';
import { MOST_SECONDS } from './request-fields.js';
import { fieldsOfLine, REQUEST_LINE } from './request-line.js';

const HEADER = 'header.';
/** What nothing, or a dash, says in columns that every request has something for, or is known to have nothing. */
const KNOWN_NONE: Readonly<Record<string, string>> = { agent: 'absent', referrer: 'absent', user: 'anonymous' };
const headerOf = (field: string): string | undefined =>
  field.startsWith(HEADER) ? field.slice(HEADER.length) : undefined;

/** Names that exports of tables give columns, beside our own and the conventional ones. */
const SPOKEN = new Map(
  Object.entries({
    ...{ date: 'date', clock: 'time', datetime: 'time', 'client-ip': 'peer', 'source-ip': 'peer', ip: 'peer' },
    ...{ 'user-agent': 'agent', useragent: 'agent', referer: 'referrer', username: 'user', verb: 'method' },
    ...{ 'destination-ip': 'destination', 'status-code': 'status', hostname: 'host' },
    ...{ 'request-size': 'size', 'response-size': 'bytes' },
  }),
);

/** The field of each column of a table; undefined for a column that is skipped. */
export function fieldsOfColumns(names: readonly string[], { columns }: Mapping): (string | undefined)[] {
  const mapped = new Map(Object.entries(columns).map(([field, column]) => [column.trim().toLowerCase(), field]));
  const taken = new Set(Object.keys(columns));
  return names.map((name) => {
    const shown = mapped.get(name.trim().toLowerCase());
    if (shown !== undefined) return shown;
    const plain = name.trim().toLowerCase().replace(/[ _]/g, '-');
    const found = fieldNamed(name.trim()) ?? fieldNamed(plain) ?? SPOKEN.get(plain);
    if (found === undefined || found === 'headers' || taken.has(found)) return undefined;
    taken.add(found);
    return found;
  });
}

/** The fields of one row of a table, as `readRequest` takes them. */
export function fieldsOfRow(
  fields: readonly (string | undefined)[],
  row: readonly string[],
  zone: string | undefined,
): Record<string, unknown> {
  const found: Record<string, unknown> = {};
  const headers = new Map<string, readonly string[]>();
  fields.forEach((field, at) => {
    const value = row[at];
    if (field === undefined || value === undefined) return;
    const isNone = value === '' || value === '-';
    // A column of a header says of each request whether it carried one.
    const header = field === 'forwarded-for' ? 'x-forwarded-for' : field === 'forwarded' ? field : headerOf(field);
    if (header !== undefined) headers.set(header, isNone ? [] : [value]);
    else if (field === REQUEST_LINE) Object.assign(found, fieldsOfLine(value));
    else if (isNone) {
      if (KNOWN_NONE[field] !== undefined) found[field] = KNOWN_NONE[field];
    } else if (field === 'groups') found[field] = value.split(';').map((each) => each.trim());
    else found[field] = value;
  });
  if (headers.size > 0) found['some-headers'] = Object.fromEntries(headers);
  const time = timeOf(found, zone);
  delete found.date;
  if (time !== undefined) found.time = time;
  return found;
}

/** `2026-11-09 08:00:00`, with or without a fraction, and with `T` between. */
const LOCAL = /^(\d{4}-\d\d-\d\d)[T ](\d\d?:\d\d:\d\d(?:[.,]\d+)?)$/;
const ZONED = /^(\d{4}-\d\d-\d\d)[T ](\d\d:\d\d:\d\d(?:\.\d+)?) ?([Zz]|[+-]\d\d:?\d\d)$/;

/** The time of a row, in a form that `readRequest` takes; a time without a zone is in the given one. */
export function timeOf({ date, time }: Readonly<Record<string, unknown>>, zone: string | undefined): unknown {
  // A column that is called a date may hold the time of the day too.
  const text = [date, time].filter((each) => typeof each === 'string').join(' ');
  if (text === '') return undefined;
  if (/^\d+(?:\.\d+)?$/.test(text)) return Number(text);
  const local = LOCAL.exec(text);
  if (local) {
    const instant = parseTime(`${local[1]}T${(local[2] as string).replace(',', '.').padStart(8, '0')}Z`);
    return instant === undefined ? text : exactly(instantIn(zone ?? 'UTC', instant));
  }
  const clock = readClock(text);
  if (clock !== undefined) return exactly(clock);
  const zoned = ZONED.exec(text);
  return zoned ? `${zoned[1]}T${zoned[2]}${(zoned[3] as string).replace(/^(...)(\d\d)$/, '$1:$2')}` : text;
}

/** An instant in a form that `readRequest` takes for no other, to the millisecond. */
const exactly = (instant: number): number | string =>
  instant > MOST_SECONDS ? instant : new Date(instant).toISOString();
