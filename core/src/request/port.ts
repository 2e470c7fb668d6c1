import type { Request } from './request.js';

/** The ports that URLs of a special scheme leave out (WHATWG URL, section 4.2). */
const DEFAULT_PORTS: ReadonlyMap<string, number> = new Map([
  ['http', 80],
  ['https', 443],
  ['ws', 80],
  ['wss', 443],
  ['ftp', 21],
]);

/** The port that the request goes to: its own, else its scheme's, else undefined. */
export function portOf({ port, scheme }: Pick<Request, 'port' | 'scheme'>): number | undefined {
  return port ?? (scheme === undefined ? undefined : DEFAULT_PORTS.get(scheme));
}
