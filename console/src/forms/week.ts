/** A span of a day in minutes from its midnight; `to` is above `from`, and above 1,440 where it runs over midnight. */
export interface Span {
  readonly from: number;
  readonly to: number;
}

/** The spans of each day, from Monday on; in order, and apart from each other. */
export type Week = readonly (readonly Span[])[];

export const DAYS = ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun'] as const;
export const DAY_MINUTES = 1440;

/** The week that a schedule's `weekly` means; undefined where some of it cannot be read. */
export function readWeek(weekly: unknown): Week | undefined {
  if (weekly === null || weekly === undefined) return DAYS.map(() => []);
  if (typeof weekly !== 'object' || Array.isArray(weekly)) return undefined;
  const week: { spans: readonly Span[]; width: number }[] = DAYS.map(() => ({ spans: [], width: 0 }));
  for (const [key, value] of Object.entries(weekly)) {
    const days = daysOf(key);
    const spans = readSpans(value);
    if (days === undefined || spans === undefined) return undefined;
    // A day of its own goes before the ranges that it lies in.
    for (const day of days) if (week[day]?.width === 0 || days.length === 1) week[day] = { spans, width: days.length };
  }
  return writable(week.map(({ spans }) => spans));
}

/** The spans of a day, from a list or a text of them; undefined where one cannot be read. */
export function readSpans(value: unknown): readonly Span[] | undefined {
  const texts = (Array.isArray(value) ? value : [value ?? '']).map((each) => String(each).replace(/ ?([-–]) ?/g, '$1'));
  const words = Array.isArray(value) ? texts : texts.flatMap((text) => text.split(/[\s,]+/));
  const spans = words.filter((word) => word !== '').map(spanOf);
  return spans.includes(undefined) ? undefined : merged(spans.flatMap((each) => each ?? []));
}

function spanOf(word: string): readonly Span[] | undefined {
  if (word === 'closed') return [];
  if (word === 'open') return [{ from: 0, to: DAY_MINUTES }];
  const found = /^(\d\d?):([0-5]\d)[-–](\d\d?):([0-5]\d)$/.exec(word);
  if (!found) return undefined;
  const [from, to] = [Number(found[1]) * 60 + Number(found[2]), Number(found[3]) * 60 + Number(found[4])];
  if (from >= DAY_MINUTES || to > DAY_MINUTES || from === to) return undefined;
  return [{ from, to: to > from ? to : to + DAY_MINUTES }];
}

/** Numbers of the days, from 0 for Monday; `sat-mon` runs over Sunday. */
function daysOf(text: string): number[] | undefined {
  const parts = text.toLowerCase().split('-');
  const [first = -1, last = first] = parts.map((part) => DAYS.indexOf(part as (typeof DAYS)[number]));
  if (first < 0 || last < 0 || parts.length > 2) return undefined;
  const days = ((last - first + DAYS.length) % DAYS.length) + 1;
  return Array.from({ length: days }, (_, index) => (first + index) % DAYS.length);
}

/** Spans in order, those that touch as one. */
function merged(spans: readonly Span[]): readonly Span[] {
  const found: Span[] = [];
  for (const span of [...spans].sort((a, b) => a.from - b.from)) {
    const last = found.at(-1);
    if (last && span.from <= last.to) found[found.length - 1] = { from: last.from, to: Math.max(last.to, span.to) };
    else found.push(span);
  }
  return found;
}

/** The week as people write it: days that follow each other with the same hours together, those without any left out. */
export function writtenWeek(week: Week): Readonly<Record<string, readonly string[]>> {
  const runs: { first: number; last: number; spans: readonly string[] }[] = [];
  week.forEach((spans, day) => {
    const words = writtenSpans(spans);
    const last = runs.at(-1);
    if (last && last.last === day - 1 && last.spans.join() === words.join()) last.last = day;
    else runs.push({ first: day, last: day, spans: words });
  });
  return Object.fromEntries(
    runs
      .filter(({ spans }) => spans.length > 0)
      .map(({ first, last, spans }) => [first === last ? DAYS[first] : `${DAYS[first]}-${DAYS[last]}`, spans]),
  );
}

export const writtenSpans = (spans: readonly Span[]): readonly string[] => spans.map(writtenSpan);

function writtenSpan({ from, to }: Span): string {
  if (from === 0 && to === DAY_MINUTES) return 'open';
  return `${clockOf(from)}-${clockOf(to > DAY_MINUTES ? to - DAY_MINUTES : to)}`;
}

const clockOf = (minutes: number): string =>
  `${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`;

/** The week with other spans on a day. */
export const withDay = (week: Week, day: number, spans: readonly Span[]): Week =>
  writable(week.map((own, at) => (at === day ? spans : own)));

/** The week with the minutes of a day in it, or out of it; also those that the day before runs into. */
export function painted(week: Week, day: number, span: Span, isOn: boolean): Week {
  if (isOn) return withDay(week, day, merged([...(week[day] ?? []), span]));
  const night = { from: span.from + DAY_MINUTES, to: span.to + DAY_MINUTES };
  const left = week.map((spans, at) => {
    const own = at === day ? without(spans, span) : spans;
    return at === dayBefore(day) ? without(own, night) : own;
  });
  return writable(left);
}

/** The same week in spans that can be written: each begins on its day, and is shorter than a day or is the whole of it. */
function writable(week: Week): Week {
  const cut = week.map((spans) => spans.flatMap(cutAtMidnight));
  if (cut.flat().length === week.flat().length && cut.flat().every(({ from }) => from < DAY_MINUTES)) return week;
  return writable(
    cut.map((spans, day) =>
      merged([
        ...spans.filter(({ from }) => from < DAY_MINUTES),
        ...(cut[dayBefore(day)] ?? []).filter(({ from }) => from >= DAY_MINUTES).map(onNextDay),
      ]),
    ),
  );
}

function cutAtMidnight({ from, to }: Span): readonly Span[] {
  const isWhole = from === 0 && to === DAY_MINUTES;
  if (isWhole || to - from < DAY_MINUTES) return [{ from, to }];
  return [
    { from, to: DAY_MINUTES },
    { from: DAY_MINUTES, to },
  ];
}

const dayBefore = (day: number): number => (day + DAYS.length - 1) % DAYS.length;
const onNextDay = ({ from, to }: Span): Span => ({ from: from - DAY_MINUTES, to: to - DAY_MINUTES });

const without = (spans: readonly Span[], { from, to }: Span): readonly Span[] =>
  spans
    .flatMap((span) => [
      { from: span.from, to: Math.min(span.to, from) },
      { from: Math.max(span.from, to), to: span.to },
    ])
    .filter((span) => span.to > span.from);

/** The week as it is drawn: what runs over midnight is on both days. */
export const drawnWeek = (week: Week): Week =>
  week.map((spans, day) =>
    merged([
      ...spans.map(({ from, to }) => ({ from, to: Math.min(to, DAY_MINUTES) })),
      ...(week[dayBefore(day)] ?? [])
        .filter(({ to }) => to > DAY_MINUTES)
        .map(({ to }) => onNextDay({ from: DAY_MINUTES, to })),
    ]),
  );
