import type { FilterQuery } from '@jade-fence/contract';
import { useSearchParams } from 'react-router';
import { isListedRole, type ListedRole } from '../marks/roles.js';

/** Whether anything selects requests. */
export const isAsking = ({ rule, country, to, verdict, host, hour, only, own }: Place): boolean =>
  own || [rule, country, to, verdict, host, hour, ...Object.values(only)].some((each) => each !== undefined);

/** The place on a policy's page: all of it is in the address, so that every view can be linked to. */
export interface Place {
  readonly replay: number | undefined;
  /** A rule's name, or `default`. */
  readonly rule: string | undefined;
  readonly role: ListedRole;
  readonly verdict: FilterQuery['verdict'];
  readonly country: string | undefined;
  /** The country of the destination. */
  readonly to: string | undefined;
  readonly host: string | undefined;
  /** The start of an hour, in UTC. */
  readonly hour: string | undefined;
  /** What else the requests are of; none of what is not chosen. */
  readonly only: Readonly<Partial<Record<Filter, string>>>;
  /** Whether requests are of this policy alone. A rule's are anyway. */
  readonly own: boolean;
  readonly request: number | undefined;
  /** What the requests are in sum, in place of the requests themselves. */
  readonly evidence: boolean;
  /** The rule that is edited. */
  readonly edit: string | undefined;
}

/** What else requests can be chosen by, under the names that the address and the API have for it. */
export const FILTERS = ['client', 'path', 'method', 'status', 'category', 'application', 'destination'] as const;
export type Filter = (typeof FILTERS)[number];

export type Go = (change: Partial<Record<keyof Place | Filter, string | number | undefined>>) => void;

/** The place, and a way to change parts of it; whoever leaves a rule or filter leaves its request too. */
export function usePlace(): [Place, Go] {
  const [search, setSearch] = useSearchParams();
  const role = search.get('role');
  const place: Place = {
    replay: wholeNumber(search.get('replay')),
    rule: search.get('rule') ?? undefined,
    role: isListedRole(role) ? role : 'decided',
    // The service refuses one that is none.
    verdict: (search.get('verdict') ?? undefined) as FilterQuery['verdict'],
    country: search.get('country') ?? undefined,
    to: search.get('to') ?? undefined,
    host: search.get('host') ?? undefined,
    hour: search.get('hour') ?? undefined,
    only: Object.fromEntries(FILTERS.flatMap((name) => (search.has(name) ? [[name, search.get(name)]] : []))),
    own: search.get('own') === 'yes',
    request: wholeNumber(search.get('request')),
    evidence: search.get('evidence') === 'yes',
    edit: search.get('edit') ?? undefined,
  };
  const go: Go = (change) =>
    setSearch((before) => {
      const after = new URLSearchParams(before);
      if (!('request' in change)) after.delete('request');
      for (const [name, value] of Object.entries(change)) {
        if (value === undefined) after.delete(name);
        else after.set(name, String(value));
      }
      return after;
    });
  return [place, go];
}

function wholeNumber(text: string | null): number | undefined {
  return text !== null && /^[1-9]\d{0,8}$/.test(text) ? Number(text) : undefined;
}

/** In the address, what is edited where it is the policy itself: no rule has such a name. */
export const HEAD = '@';
