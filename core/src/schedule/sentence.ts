import { formatDate } from '../text/index.js';
import { DAYS, type DaySpan, formatSpan, MINUTES_A_DAY, type Schedule } from './schedule.js';

const DAY_WORDS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];
const MOST_LISTED = 4;

/** When the schedule holds, in one sentence. */
export function scheduleSentence(schedule: Schedule): string {
  const days = runsOfDays(schedule.weekly).map(
    ({ first, last, spans }) => `${daysText(first, last)} ${spansText(spans)}`,
  );
  const weekly = days.length === 0 ? 'Never' : days.join('; ');
  const dates = [...schedule.except].sort(([a], [b]) => a - b);
  const shown = dates.slice(0, MOST_LISTED).map(([date, spans]) => `${formatDate(date)} ${spansText(spans)}`);
  const more = dates.length > MOST_LISTED ? [`and ${dates.length - MOST_LISTED} more dates`] : [];
  const except = dates.length === 0 ? '' : `; except ${[...shown, ...more].join(', ')}`;
  return `${weekly} (${schedule.zone})${except}.`;
}

interface DayRun {
  readonly first: number;
  last: number;
  readonly spans: readonly DaySpan[];
}

/** Adjacent days with the same spans, written together; days without any are left out. */
function runsOfDays(weekly: Schedule['weekly']): DayRun[] {
  const runs: DayRun[] = [];
  weekly.forEach((spans, day) => {
    if (spans.length === 0) return;
    const open = runs.at(-1);
    if (open && open.last === day - 1 && spansText(open.spans) === spansText(spans)) open.last = day;
    else runs.push({ first: day, last: day, spans });
  });
  return runs;
}

function daysText(first: number, last: number): string {
  if (first === 0 && last === DAYS.length - 1) return 'every day';
  return first === last ? (DAY_WORDS[first] as string) : `${DAY_WORDS[first]} to ${DAY_WORDS[last]}`;
}

function spansText(spans: readonly DaySpan[]): string {
  if (spans.length === 0) return 'closed';
  return spans.map(spanText).join(' and ');
}

function spanText(span: DaySpan): string {
  if (span.start === 0 && span.end === MINUTES_A_DAY) return 'all day';
  return span.end <= span.start ? `${formatSpan(span)} (over midnight)` : formatSpan(span);
}
