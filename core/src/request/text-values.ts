import { cookieValue, queryValues } from '../url/index.js';
import type { Request } from './request.js';

/**
 * What a request shows of a text field: its values, none where it is known to carry none, or undefined where that is
 * not seen. A parameter of the query may have several values.
 */
export function textValues(
  request: Request,
  field: 'agent' | 'referrer' | 'header' | 'query' | 'cookie',
  name: string,
): readonly string[] | undefined {
  switch (field) {
    case 'agent':
    case 'referrer':
      return oneOrNone(request[field]);
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
      return headerValues(request, 'cookie')?.flatMap((header) => cookieValue(header, name) ?? []);
  }
}

/** The agent and the referrer are headers too, whichever way the log tells them. */
function headerValues(request: Request, name: string): readonly string[] | undefined {
  const value = request.headers.get(name);
  if (value !== undefined) return [value];
  if (name === 'user-agent' && request.agent !== undefined) return oneOrNone(request.agent);
  if (name === 'referer' && request.referrer !== undefined) return oneOrNone(request.referrer);
  return request.allHeaders ? [] : undefined;
}

function oneOrNone(text: string | undefined): readonly string[] | undefined {
  return text === undefined ? undefined : text === '' ? [] : [text];
}
