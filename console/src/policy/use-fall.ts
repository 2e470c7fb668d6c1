import type { FallBody } from '@jade-fence/contract';
import type { PolicyReport } from '@jade-fence/core/replay';
import { useFetched } from '../api/fetching.js';
import { clock } from '../marks/clock.js';
import { FILTER_WORDS } from '../requests/filter-words.js';
import { hourAfter } from '../requests/hour-after.js';
import { FILTERS, type Place } from './place.js';

interface Fallen {
  /** The figures of the policy, for the selected requests only. */
  readonly report: PolicyReport | undefined;
  /** Which these are, in words; undefined for all. */
  readonly of: string | undefined;
}

/** The traffic that falls through a policy: all of it, or what of it was chosen by any field. */
export function useFall(replay: number | undefined, report: PolicyReport | undefined, place: Place): Fallen {
  const { country, to, verdict, host, hour, only } = place;
  const span = hour !== undefined && { from: hour, to: hourAfter(hour) };
  const query = { country, destinationCountry: to, verdict, host, ...only, ...span };
  const isOfSome = Object.values(query).some((value) => value !== undefined);
  const carried = replay !== undefined && report !== undefined && isOfSome && { params: { id: replay }, query };
  const fetched = useFetched('GET /replays/:id/fall', carried, { keep: true });
  const fall = fetched.data?.policies.find((each) => each.policy === report?.policy);
  if (carried === false || report === undefined) return { report, of: undefined };
  const words = [
    verdict,
    country !== undefined && `from ${country}`,
    to !== undefined && `to destinations in ${to}`,
    host !== undefined && `to ${host}`,
    hour !== undefined && `in the hour of ${clock(hour).slice(5, 16)}`,
    ...FILTERS.map((name) => only[name] !== undefined && `${FILTER_WORDS[name]} ${only[name]}`),
  ];
  // Until they are counted, the figures of the previous selection are shown.
  const counting = fetched.isPlaceholderData || fetched.isPending ? ', counting …' : '';
  return { report: fall && fallen(report, fall), of: `${words.filter(Boolean).join(', ')}${counting}` };
}

function fallen(report: PolicyReport, fall: FallBody['policies'][number]): PolicyReport {
  const figures = new Map(fall.rules.map((each) => [each.rule, each]));
  return {
    ...report,
    requests: fall.requests,
    verdicts: fall.verdicts,
    rules: report.rules.map((rule) => ({ ...rule, ...figures.get(rule.rule) })),
    default: { ...report.default, ...fall.default },
    // These are figures of all requests, and would be wrong for some.
    remarks: [],
  };
}
