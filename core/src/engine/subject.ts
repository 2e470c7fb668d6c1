import { type Origin, originOf } from '../country/index.js';
import type { Policy } from '../policy/index.js';
import { type ClientFinding, type ClientTrust, findClient, type Request } from '../request/index.js';
import { type PathSettings, pathUnder } from '../url/index.js';
import type { Prepared } from './prepared.js';

/**
 * A request as the rules of one policy see it: with its client resolved, the countries of client and destination, and
 * its path as the policy reads paths.
 */
export interface Subject {
  readonly request: Request;
  readonly client: ClientFinding;
  /** Undefined when unknown: the client is not known, or no country data is loaded. */
  readonly origin: Origin | undefined;
  /** Where the destination's address is; undefined where the request does not show it, or no country data is loaded. */
  readonly destinationOrigin: Origin | undefined;
  /** How the policy reads paths, and the request's path read so. */
  readonly paths: PathSettings;
  readonly path: string | undefined;
}

/** `country` is what to take the client's country for, whatever is known of its address: that of a probe. */
export function subjectOf(request: Request, policy: Policy, prepared: Prepared, country?: string): Subject {
  const client = findClient(request, prepared.trust.get(policy.name) as ClientTrust);
  const origin: Origin | undefined =
    country === undefined ? client.address && originOf(prepared.country, client.address) : { country, by: 'neither' };
  const destinationOrigin = request.destination && originOf(prepared.country, request.destination);
  return { request, client, origin, destinationOrigin, ...pathsOf(request, policy.paths) };
}

/** The path of a request in the normal form of a policy's settings. */
export const pathsOf = ({ path }: Request, paths: PathSettings): Pick<Subject, 'paths' | 'path'> => ({
  paths,
  path: path === undefined ? undefined : pathUnder(paths, path),
});
