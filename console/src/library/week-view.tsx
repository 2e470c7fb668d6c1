import { parse } from 'yaml';

const DAYS = ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun'];
const DAY_MINUTES = 1440;

interface Span {
  readonly from: number;
  readonly to: number;
}

/** A schedule as a week: a row a day, with the hours in it. */
export function WeekView({ text }: { readonly text: string }) {
  const week = weekOf(text);
  if (week === undefined) return null;
  return (
    <figure className="my-3 max-w-2xl" aria-label="The week">
      <ol>
        {DAYS.map((day) => {
          const spans = week.get(day) ?? [];
          return (
            <li key={day} className="flex items-center gap-2">
              <span className="w-8 font-mono text-soft">{day}</span>
              <span className="relative h-4 flex-1 border-b border-line bg-paper">
                {spans.map(({ from, to }) => (
                  <span
                    key={from}
                    className="absolute inset-y-0.5 bg-jade"
                    style={{ left: `${(from / DAY_MINUTES) * 100}%`, width: `${((to - from) / DAY_MINUTES) * 100}%` }}
                  />
                ))}
              </span>
              <span className="w-52 font-mono">{spans.map(shown).join(' ') || 'closed'}</span>
            </li>
          );
        })}
      </ol>
      <figcaption className="ml-10 flex w-[calc(100%-16rem)] justify-between text-soft">
        {['00', '06', '12', '18', '24'].map((hour) => (
          <span key={hour}>{hour}</span>
        ))}
      </figcaption>
    </figure>
  );
}

const clockOf = (minutes: number): string =>
  `${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`;
const shown = ({ from, to }: Span): string => `${clockOf(from)}-${clockOf(to)}`;

/** The spans of each day; what runs over midnight is drawn on both days. */
function weekOf(text: string): Map<string, Span[]> | undefined {
  let weekly: unknown;
  try {
    weekly = (parse(text) as { weekly?: unknown } | null)?.weekly;
  } catch {
    return undefined;
  }
  if (weekly === null || typeof weekly !== 'object') return undefined;
  const week = new Map<string, Span[]>(DAYS.map((day) => [day, []]));
  for (const [days, spans] of Object.entries(weekly))
    for (const day of daysOf(days))
      for (const span of [spans].flat()) {
        const [from, to] = String(span).split('-').map(minutesOf);
        if (from === undefined || to === undefined || Number.isNaN(from + to)) continue;
        if (to > from) week.get(day)?.push({ from, to });
        else {
          week.get(day)?.push({ from, to: DAY_MINUTES });
          if (to > 0) week.get(DAYS[(DAYS.indexOf(day) + 1) % 7] as string)?.push({ from: 0, to });
        }
      }
  return week;
}

const minutesOf = (clock: string): number => {
  const [hours, minutes = '0'] = clock.split(':');
  return Number(hours) * 60 + Number(minutes);
};

function daysOf(text: string): string[] {
  const [first = '', last = first] = text.split('-');
  const [from, to] = [DAYS.indexOf(first), DAYS.indexOf(last)];
  if (from < 0 || to < 0) return [];
  return from <= to ? DAYS.slice(from, to + 1) : [...DAYS.slice(from), ...DAYS.slice(0, to + 1)];
}
