import { type Origin, originOf } from '../country/index.js';
import type { Policy } from '../policy/index.js';
import { type ClientFinding, type ClientTrust, findClient, type Request } from '../request/index.js';
import type { Prepared } from './prepared.js';

/** A request as the rules of one policy see it: with its client resolved, and the client's country. */
export interface Subject {
  readonly request: Request;
  readonly client: ClientFinding;
  /** Undefined where it cannot be told: the client is not known, or no country data is loaded. */
  readonly origin: Origin | undefined;
}

/** `country` is what to take the client's country for, whatever is known of its address: that of a probe. */
export function subjectOf(request: Request, policy: Policy, prepared: Prepared, country?: string): Subject {
  const client = findClient(request, prepared.trust.get(policy.name) as ClientTrust);
  if (country !== undefined) return { request, client, origin: { country, by: 'neither' } };
  return { request, client, origin: client.address && originOf(prepared.country, client.address) };
}
