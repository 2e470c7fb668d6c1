import type { Destination } from '../check/index.js';
import type { Probe } from '../probe/index.js';
import { makeRequest, type Request } from '../request/index.js';

/** The request of a probe for a destination, at a time in milliseconds since 1970. All other fields are unseen. */
export function probeRequest(probe: Probe, destination: Destination, time: number): Request {
  const { client, user, groups, agent, headers } = probe;
  const { method, scheme, host, port, path, query } = destination;
  return makeRequest({ time, peer: client, user, groups, agent, headers, method, scheme, host, port, path, query });
}
