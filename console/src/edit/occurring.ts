import type { Report } from '@jade-fence/core/replay';
import { createContext, useContext } from 'react';
import { count } from '../marks/count.js';
import type { Suggested } from './fields.js';

/** The report of the log that is shown, for what its requests have; undefined where there is none. */
export const ShownReport = createContext<Report | undefined>(undefined);

/** The fields of a rule that a report counts values of. */
const COUNTED = ['client', 'country', 'destination-country', 'host', 'method', 'category', 'application'] as const;
type Counted = (typeof COUNTED)[number];

const isCounted = (field: string): field is Counted => (COUNTED as readonly string[]).includes(field);

/** What a field can be filled with, with how many requests of the log have it; what the log alone has comes behind. */
export function useOccurring(field: string, offered: readonly Suggested[]): readonly Suggested[] {
  const report = useContext(ShownReport);
  if (report === undefined || !isCounted(field)) return offered;
  // Reports of before may lack a dimension.
  const rows = report.breakdowns[field]?.rows ?? [];
  const counts = new Map(rows.flatMap(({ key, requests }) => (key === null ? [] : [[key, requests] as const])));
  const inLog = (value: string): Pick<Suggested, 'inLog'> => {
    const requests = counts.get(value);
    return requests === undefined ? {} : { inLog: `${count(requests)} in the log` };
  };
  const names = new Set(offered.map(({ value }) => value));
  const more = [...counts.keys()].filter((key) => !names.has(key));
  return [
    ...offered.map((each) => ({ ...each, ...inLog(each.value) })),
    ...more.map((value) => ({ value, detail: '', ...inLog(value) })),
  ];
}
