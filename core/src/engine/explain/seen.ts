import { type Address, formatAddress } from '../../address/index.js';
import { formatAmount, type Test } from '../../condition/index.js';
import { portOf, textValues } from '../../request/index.js';
import type { UrlSeen } from '../../url/index.js';
import { type Judged, testField } from '../reference/test.js';
import { namesOf } from '../semantics/user-names.js';

/** The value of the request that a test saw. */
export interface Seen {
  /** As a person would write it; several values are parted by commas. */
  readonly text: string;
  readonly texts: readonly string[];
  readonly addresses: readonly Address[];
  readonly url: UrlSeen | undefined;
}

const ofTexts = (texts: readonly string[], none = 'nothing'): Seen => ({
  text: texts.length === 0 ? none : texts.join(', '),
  texts,
  addresses: [],
  url: undefined,
});
const ofText = (text: string | undefined): Seen | undefined => (text === undefined ? undefined : ofTexts([text]));
const ofAddresses = (addresses: readonly (Address | undefined)[] | undefined): Seen | undefined => {
  const known = addresses?.filter((address) => address !== undefined) ?? [];
  return known.length === 0 ? undefined : { ...ofTexts(known.map(formatAddress)), addresses: known };
};

/** The request's value of the test's field; undefined when unseen. */
export function seenBy(test: Test, judged: Judged): Seen | undefined {
  const { request, client, origin, destinations, destinationCountries, path } = judged.subject;
  switch (test.field) {
    case 'client':
      return ofAddresses([client.address]);
    case 'peer':
      return ofAddresses([request.peer]);
    case 'destination':
      return ofAddresses(destinations);
    case 'country':
      return ofText(origin?.country);
    case 'destination-country':
      return destinationCountries && ofTexts(destinationCountries);
    case 'path':
      return ofText(path);
    case 'host':
    case 'method':
    case 'scheme':
    case 'protocol':
      return ofText(request[test.field]);
    case 'port':
      return ofText(portOf(request)?.toString());
    case 'url':
      return seenUrl(judged);
    case 'category':
      return memberships(test, judged, [...judged.prepared.categories.keys()], 'uncategorised');
    case 'application':
      return memberships(test, judged, [...judged.prepared.workspace.applications.keys()], 'unidentified');
    case 'tag':
      return ofTexts([...judged.tags], 'none');
    case 'user':
    case 'group': {
      const names = namesOf(test.field, request);
      return names && ofTexts(names, 'anonymous');
    }
    case 'agent':
    case 'referrer':
    case 'header':
    case 'query':
    case 'cookie': {
      const values = textValues(request, test.field, test.name ?? '');
      return values && ofTexts(values, 'absent');
    }
    case 'size':
      return ofText(request.size === undefined ? undefined : formatAmount(request.size));
    case 'time':
      return ofText(request.time === undefined ? undefined : new Date(request.time).toISOString());
  }
}

function seenUrl({ subject: { request, path } }: Judged): Seen | undefined {
  const { host, query } = request;
  if (host === undefined) return undefined;
  const text =
    path === undefined ? host : query === undefined || query === '' ? host + path : `${host}${path}?${query}`;
  return { ...ofTexts([text]), url: { ...request, path, port: portOf(request) } };
}

/** The categories or applications that the request belongs to; undefined when none is known and some are unseen. */
function memberships(test: Test, judged: Judged, names: readonly string[], none: string): Seen | undefined {
  const truths = names.map((name) => {
    const one = { ...test, values: [{ type: 'name', name, at: NOWHERE }] } as Test;
    return { name, holds: testField(one, judged).holds };
  });
  const found = truths.filter(({ holds }) => holds === 'match').map(({ name }) => name);
  if (found.length === 0 && truths.some(({ holds }) => holds === 'unseen')) return undefined;
  return ofTexts(found, none);
}

const NOWHERE = { span: { start: 0, end: 0 }, path: [] };
