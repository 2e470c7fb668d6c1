import type { Address } from '../address/index.js';
import { type Origin, originOf } from '../country/index.js';
import type { Policy } from '../policy/index.js';
import { type ClientFinding, type ClientTrust, findClient, type Request } from '../request/index.js';
import { type PathSettings, pathUnder } from '../url/index.js';
import type { Prepared } from './prepared.js';
import { countriesOf, destinationsOf } from './semantics/destinations.js';

/**
 * A request as the rules of one policy see it: with its client and its destinations resolved, the countries of both, and
 * its path as the policy reads paths.
 */
export interface Subject {
  readonly request: Request;
  readonly client: ClientFinding;
  /** Undefined when unknown: the client is not known, or no country data is loaded. */
  readonly origin: Origin | undefined;
  /** The addresses that it goes to, at least one; undefined where they are not known. */
  readonly destinations: readonly Address[] | undefined;
  /** Their countries, in order, each once; undefined where they are not known, or no country data is loaded. */
  readonly destinationCountries: readonly string[] | undefined;
  /** Whether the policy takes destinations from the resolutions of hosts. */
  readonly resolves: boolean;
  /** How the policy reads paths, and the request's path read so. */
  readonly paths: PathSettings;
  readonly path: string | undefined;
}

/** `country` is what to take the client's country for, whatever is known of its address: that of a probe. */
export function subjectOf(request: Request, policy: Policy, prepared: Prepared, country?: string): Subject {
  const client = findClient(request, prepared.trust.get(policy.name) as ClientTrust);
  const origin: Origin | undefined =
    country === undefined ? client.address && originOf(prepared.country, client.address) : { country, by: 'neither' };
  const destinations = destinationsOf(request, policy, prepared.resolutions);
  const destinationCountries =
    destinations && countriesOf(destinations, (address) => originOf(prepared.country, address)?.country);
  const { resolve: resolves } = policy.destinations;
  return { request, client, origin, destinations, destinationCountries, resolves, ...pathsOf(request, policy.paths) };
}

/** The path of a request in the normal form of a policy's settings. */
export const pathsOf = ({ path }: Request, paths: PathSettings): Pick<Subject, 'paths' | 'path'> => ({
  paths,
  path: path === undefined ? undefined : pathUnder(paths, path),
});
