import type { Report } from '@jade-fence/core/replay';
import { createContext, useContext } from 'react';
import { useFetched } from '../api/fetching.js';
import { count } from '../marks/count.js';
import type { Suggested } from './fields.js';

/** The replay that is shown, for what the requests of its log have. */
interface Shown {
  readonly replay: number;
  readonly report: Report;
}

/** Undefined where nothing is shown. */
export const ShownReport = createContext<Shown | undefined>(undefined);

/** The fields of a rule that a report counts values of. */
const COUNTED = ['client', 'country', 'destination-country', 'host', 'method', 'category', 'application'] as const;
type Counted = (typeof COUNTED)[number];
const isCounted = (field: string): field is Counted => (COUNTED as readonly string[]).includes(field);

/** Those that only a sum of the requests has, which is fetched where the log is not too long for it. */
const SUMMED = ['path', 'agent'] as const;
type Summed = (typeof SUMMED)[number];
const isSummed = (field: string): field is Summed => (SUMMED as readonly string[]).includes(field);
const MOST_SUMMED = 50_000;

/** What a field can be filled with, with how many requests of the log have it; what the log alone has comes behind. */
export function useOccurring(field: string, offered: readonly Suggested[]): readonly Suggested[] {
  const shown = useContext(ShownReport);
  const mayAsk = shown !== undefined && isSummed(field) && shown.report.requests <= MOST_SUMMED;
  const sum = useFetched('GET /replays/:id/sum', mayAsk && { params: { id: shown.replay } }).data;
  // Reports of before may lack a dimension.
  const counted = isCounted(field) ? shown?.report.breakdowns[field]?.rows : undefined;
  const rows = counted ?? (isSummed(field) ? sum?.shares[field].rows : undefined);
  if (rows === undefined) return offered;
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
