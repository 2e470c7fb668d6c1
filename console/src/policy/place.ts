import type { FilterQuery } from '@jade-fence/contract';
import { useSearchParams } from 'react-router';
import { isListedRole, type ListedRole } from '../marks/roles.js';

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
  readonly request: number | undefined;
  /** What the requests of a rule are, in place of the requests themselves. */
  readonly evidence: boolean;
  /** The rule that is edited. */
  readonly edit: string | undefined;
}

export type Go = (change: Partial<Record<keyof Place, string | number | undefined>>) => void;

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
