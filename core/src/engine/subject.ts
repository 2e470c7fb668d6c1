import { type Origin, originOf } from '../country/index.js';
import type { Policy } from '../policy/index.js';
import { type ClientFinding, type ClientTrust, findClient, type Request } from '../request/index.js';
import type { Prepared } from './prepared.js';

/** A request as the rules of one policy see it: with its client resolved, and the client's country. */
export interface Subject {
  readonly request: Request;
  readonly client: ClientFinding;
  /** Undefined where the client is not told, or no country data is loaded. */
  readonly origin: Origin | undefined;
}

export function subjectOf(request: Request, policy: Policy, prepared: Prepared): Subject {
  const client = findClient(request, prepared.trust.get(policy.name) as ClientTrust);
  const known = client.address !== undefined && prepared.countryData !== undefined;
  return { request, client, origin: known ? originOf(prepared.countryData!, client.address!) : undefined };
}
