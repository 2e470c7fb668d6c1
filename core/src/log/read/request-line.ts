/** The field of a mapping that holds the request line of HTTP: method, target and protocol (RFC 9112, section 3). */
export const REQUEST_LINE = 'request';

const REQUEST = /^([!#$%&'*+.^_`|~0-9A-Za-z-]{1,32}) (\S+)(?: (HTTP\/[0-9.]{1,4}))?$/;

/** The fields that a request line has; none where it is no request line. */
export function fieldsOfLine(text: unknown): Readonly<Record<string, string>> {
  const found = typeof text === 'string' ? REQUEST.exec(text) : null;
  if (!found) return {};
  const [, method, target, protocol] = found as unknown as [string, string, string, string | undefined];
  return protocol === undefined ? { method, path: target } : { method, path: target, protocol };
}
