import { fieldName, type Test } from '../../condition/index.js';
import type { ClientHow } from '../../request/index.js';
import { answerFor } from '../../resolution/index.js';
import type { Judged } from '../reference/test.js';

/** Why a test could not be judged on the request. */
export function unseenReason(test: Test, judged: Judged): string {
  const { subject, prepared } = judged;
  const { client, request } = subject;
  switch (test.field) {
    case 'country':
      if (client.address !== undefined && prepared.country.data === undefined) return 'no country data is loaded';
      return clientReason(client.how);
    case 'destination-country':
      if (subject.destinations !== undefined) return 'no country data is loaded';
      return destinationReason(judged);
    case 'destination':
      return destinationReason(judged);
    case 'client':
      return clientReason(client.how);
    case 'url':
    case 'category':
    case 'application': {
      const missing = PARTS.filter((part) => request[part] === undefined);
      return missing.length === 0
        ? `the request does not show enough to find its ${test.field}`
        : `the request does not show its ${missing.join(', ')}, which its ${test.field} depends on`;
    }
    default:
      return `the request does not show its ${fieldName(test)}`;
  }
}

function destinationReason({ subject, prepared }: Judged): string {
  const { host } = subject.request;
  if (!subject.resolves || host === undefined) return 'the request does not show the address of its destination';
  return answerFor(prepared.resolutions, host)
    ? `${host} is known to have no address`
    : `no address of ${host} is known; it is not resolved yet`;
}

function clientReason(how: ClientHow): string {
  switch (how) {
    case 'headers-disagree':
      return 'the forwarding headers disagree about the client';
    case 'unreadable-hop':
      return 'a trusted proxy names no readable address for the client';
    case 'header-not-logged':
      return 'the request came through a trusted proxy, and its forwarding header was not logged';
    default:
      return 'the request has no known client';
  }
}
const PARTS = ['host', 'path'] as const;
