import { parse } from 'yaml';
import { readWeek } from '../forms/week.js';
import { WeekRows } from '../forms/week-rows.js';

/** A schedule as a week: a row a day, with the hours in it. */
export function WeekView({ text }: { readonly text: string }) {
  const week = readWeek(weeklyOf(text));
  return week && <WeekRows week={week} />;
}

function weeklyOf(text: string): unknown {
  try {
    return (parse(text) as { weekly?: unknown } | null)?.weekly;
  } catch {
    // A text that cannot be read has no week; its faults are shown beside it.
    return undefined;
  }
}
