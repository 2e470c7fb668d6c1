/** The values of a query's parameter, decoded as forms are (WHATWG URL, application/x-www-form-urlencoded). */
export function queryValues(query: string, name: string): string[] {
  return query === '' ? [] : new URLSearchParams(query).getAll(name);
}

/** The value of a cookie in a `Cookie` header (RFC 6265, section 4.2), without its quotes; the first of several. */
export function cookieValue(header: string, name: string): string | undefined {
  for (const pair of header.split(';')) {
    const mark = pair.indexOf('=');
    if (mark >= 0 && pair.slice(0, mark).trim() === name) return unquoted(pair.slice(mark + 1).trim());
  }
  return undefined;
}

const unquoted = (text: string): string => (/^".*"$/.test(text) ? text.slice(1, -1) : text);
