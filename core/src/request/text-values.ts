import { cookieValues, queryValues } from '../url/index.js';
import type { Request } from './request.js';

/**
 * The values of a text field of a request: empty when it is known to have none, undefined when unseen. The agent and
 * the referrer are headers too: `agent` and `header.user-agent` have the same values, whichever way the request carries
 * them, and `cookie.NAME` has those of `header.cookie`.
 */
export function textValues(
  request: Request,
  field: 'agent' | 'referrer' | 'header' | 'query' | 'cookie',
  name: string,
): readonly string[] | undefined {
  switch (field) {
    case 'agent':
    case 'referrer':
      return headerValues(request, field === 'agent' ? 'user-agent' : 'referer');
    case 'header':
      return headerValues(request, name);
    case 'query':
      // A path that is seen shows that there is no query behind it.
      return request.query === undefined
        ? request.path === undefined
          ? undefined
          : []
        : queryValues(request.query, name);
    case 'cookie':
      return headerValues(request, 'cookie')?.flatMap((header) => cookieValues(header, name));
  }
}

/** The headers that requests have a field of their own for. */
export const OWN_FIELDS: ReadonlyMap<string, 'agent' | 'referrer'> = new Map([
  ['user-agent', 'agent'],
  ['referer', 'referrer'],
]);

function headerValues(request: Request, name: string): readonly string[] | undefined {
  const { headers, allHeaders } = request;
  const values = headers.get(name);
  const field = OWN_FIELDS.get(name);
  const own = field === undefined ? undefined : request[field];
  if (own === undefined) return allHeaders && !headers.has(name) ? [] : values;
  const shown = own === '' ? [] : [own];
  return values === undefined ? shown : [...new Set([...shown, ...values])];
}
