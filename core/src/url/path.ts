const PLAIN = /^\/(?:[A-Za-z0-9_~-][A-Za-z0-9._~/-]*)?$/;
const UNRESERVED = /[A-Za-z0-9._~-]/;

/**
 * The one normal form of a URL path, so that no spelling slips past a rule: dot segments removed and backslashes
 * turned by the WHATWG URL parser; percent-encoded unreserved characters decoded and the rest in capitals
 * (RFC 3986, section 6.2.2). Letters keep their case. The result starts with `/`.
 */
export function normalPath(text: string): string {
  if (PLAIN.test(text) && !text.includes('/.')) return text;
  // The URL parser would end the path at # and ?, and drop controls and outer blanks without a word.
  const decoded = decodeUnreserved(text.replace(/[\x00-\x20#?]/g, percentEncode));
  const rooted = decoded.startsWith('/') || decoded.startsWith('\\') ? decoded : `/${decoded}`;
  // A leading // would be read as a host, so the path is parsed behind one.
  return decodeUnreserved(new URL(`http://h${rooted}`).pathname);
}

function percentEncode(character: string): string {
  return `%${character.charCodeAt(0).toString(16).toUpperCase().padStart(2, '0')}`;
}

function decodeUnreserved(text: string): string {
  return text.replace(/%([0-9a-f]{2})/gi, (encoded, hex: string) => {
    const character = String.fromCharCode(Number.parseInt(hex, 16));
    return UNRESERVED.test(character) ? character : encoded.toUpperCase();
  });
}

/** Parts a request target into its path and its query; the query is without `?`, and undefined where there is none. */
export function splitTarget(target: string): { path: string; query: string | undefined } {
  const withoutFragment = target.split('#', 1)[0] as string;
  const mark = withoutFragment.indexOf('?');
  if (mark < 0) return { path: withoutFragment, query: undefined };
  return { path: withoutFragment.slice(0, mark), query: withoutFragment.slice(mark + 1) };
}
