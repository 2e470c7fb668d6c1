import { OWN_FIELDS, type Request } from '../../request/index.js';

/**
 * The request with its agent and referrer in their own fields, however they came. Values that do not fit there stay
 * among the headers: several, and one that differs from what the field says.
 */
export function withOneTruth(request: Request): Request {
  let headers: Map<string, readonly string[] | undefined> | undefined;
  let own: Partial<Record<'agent' | 'referrer', string>> = {};
  for (const [header, field] of OWN_FIELDS) {
    const values = request.headers.get(header) ?? (request.allHeaders && request[field] === undefined ? [] : undefined);
    if (values === undefined || values.length > 1) continue;
    const value = values[0] ?? '';
    if ((request[field] ?? value) !== value || (value === '' && values.length > 0)) continue;
    own = { ...own, [field]: value };
    headers ??= new Map(request.headers);
    headers.delete(header);
  }
  return headers === undefined ? request : { ...request, ...own, headers };
}
