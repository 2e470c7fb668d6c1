import {
  isNothing,
  type MapEntry,
  type Place,
  parseDate,
  readName,
  readNote,
  type Sink,
  type TextDocument,
} from '../text/index.js';
import { DAYS, type DaySpan, MINUTES_A_DAY, type Schedule } from './schedule.js';

const KEYS = ['schedule', 'note', 'zone', 'weekly', 'except'];

/** Reads a `schedule` document; undefined when it has no readable name. */
export function readSchedule({ root, sink }: TextDocument): Schedule | undefined {
  const entries = sink.entries(root, KEYS);
  const nameEntry = entries?.get('schedule');
  if (entries === undefined || nameEntry === undefined) return undefined;
  const name = readName(sink, nameEntry.value)?.text;
  for (const key of ['zone', 'weekly']) if (!entries.has(key)) sink.missingKey(root, nameEntry.key.place, key);
  const schedule = {
    type: 'schedule' as const,
    file: sink.file,
    note: readNote(sink, entries),
    zone: readZone(sink, entries.get('zone')),
    weekly: readWeekly(sink, entries.get('weekly')?.value),
    except: readExceptions(sink, entries.get('except')?.value),
  };
  return name === undefined ? undefined : { ...schedule, name };
}

function readZone(sink: Sink, entry: MapEntry | undefined): string {
  const word = entry && sink.word(entry.value);
  if (word === undefined) return 'UTC';
  if (isZone(word.text)) return word.text;
  sink.add(word.place, { code: 'bad-zone', text: word.text });
  return 'UTC';
}

/** Offsets such as `+01:00` are zones to some readers; a schedule needs one that knows when the clocks change. */
/** Whether the text names a time zone of the IANA database. */
export function isZone(text: string): boolean {
  if (!/^[A-Za-z][A-Za-z0-9_+/-]{1,63}$/.test(text)) return false;
  try {
    return new Intl.DateTimeFormat('en', { timeZone: text }) !== undefined;
  } catch {
    return false;
  }
}

/** A day of its own goes before the ranges that it lies in; two lines of the same width for one day do not go together. */
function readWeekly(sink: Sink, place: Place | undefined): DaySpan[][] {
  const week = DAYS.map((): { spans: DaySpan[]; by: string | undefined; single: boolean } => ({
    spans: [],
    by: undefined,
    single: false,
  }));
  const entries = place && !isNothing(place) ? sink.entries(place) : undefined;
  for (const { key, value } of entries?.values() ?? []) {
    const days = tryDays(key.text);
    if (days === undefined) sink.add(key.place, { code: 'bad-day', text: key.text });
    const spans = readSpans(sink, value);
    const single = days?.length === 1;
    for (const number of days ?? []) {
      const day = week[number] as (typeof week)[number];
      if (day.by !== undefined && day.single === single)
        sink.add(key.place, {
          code: 'overlapping-days',
          day: DAYS[number] as string,
          first: day.by,
          second: key.text,
        });
      if (day.by === undefined || single) Object.assign(day, { spans, by: key.text, single });
    }
  }
  return week.map(({ spans }) => spans);
}

/** `mon`, or `mon-fri`, which may run over Sunday: `sat-mon`. */
function tryDays(text: string): number[] | undefined {
  const parts = text.toLowerCase().split('-');
  const [first, last = first] = parts.map((part) => DAYS.indexOf(part as (typeof DAYS)[number]));
  if (first === undefined || last === undefined || first < 0 || last < 0 || parts.length > 2) return undefined;
  const count = ((last - first + DAYS.length) % DAYS.length) + 1;
  return Array.from({ length: count }, (_, index) => (first + index) % DAYS.length);
}

function readExceptions(sink: Sink, place: Place | undefined): Map<number, DaySpan[]> {
  const found = new Map<number, DaySpan[]>();
  const entries = place && !isNothing(place) ? sink.entries(place) : undefined;
  for (const { key, value } of entries?.values() ?? []) {
    const date = parseDate(key.text);
    const spans = readSpans(sink, value);
    if (date === undefined) sink.add(key.place, { code: 'bad-date', text: key.text });
    else found.set(date, spans);
  }
  return found;
}

/** One span or several; `closed` is none and `open` is the whole day. */
function readSpans(sink: Sink, place: Place): DaySpan[] {
  return (sink.items(place) ?? []).flatMap((item) => {
    const word = sink.word(item);
    if (word === undefined || word.text === 'closed') return [];
    if (word.text === 'open') return [{ start: 0, end: MINUTES_A_DAY }];
    const span = trySpan(word.text);
    if (typeof span !== 'string') return [span];
    sink.add(item, { code: 'bad-span', text: word.text, reason: span });
    return [];
  });
}

function trySpan(text: string): DaySpan | 'shape' | 'empty' {
  const found = /^(\d\d?):(\d\d) ?[-–] ?(\d\d?):(\d\d)$/.exec(text);
  if (!found) return 'shape';
  const [start, end] = [minuteOf(found[1], found[2]), minuteOf(found[3], found[4])];
  if (start === undefined || end === undefined || start === MINUTES_A_DAY) return 'shape';
  return start === end ? 'empty' : { start, end };
}

function minuteOf(hours: string | undefined, minutes: string | undefined): number | undefined {
  const minute = Number(hours) * 60 + Number(minutes);
  return Number(minutes) < 60 && minute <= MINUTES_A_DAY ? minute : undefined;
}
