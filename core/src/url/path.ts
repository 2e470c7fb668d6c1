import { keptBytes, percentDecoded, percentEncoded } from './percent.js';

const PLAIN = /^\/(?:[A-Za-z0-9_~-][A-Za-z0-9._~/-]*)?$/;
/** `/ \ % ? #` divide a URL, so that their escapes are not undone. */
const KEPT = keptBytes('/\\%?#');

/**
 * The normal form of a URL path as it was sent, so that no spelling slips past a rule: a backslash is a slash, all
 * percent-encoding is undone but `%2F %5C %25 %3F %23`, and dot segments are removed as the WHATWG URL parser does. Where
 * the path has empty segments or parameters, which a policy may take away first, dot segments stay until it has:
 * `pathUnder`. The result starts with `/`; the normal form of it is itself.
 */
export function normalPath(text: string): string {
  if (PLAIN.test(text) && !text.includes('/.')) return text;
  const escaped = text.replace(/[?#]/g, (character) => percentEncoded(character.charCodeAt(0)));
  const decoded = percentDecoded(escaped.replaceAll('\\', '/'), KEPT);
  const rooted = decoded.startsWith('/') ? decoded : `/${decoded}`;
  return rooted.includes('//') || rooted.includes(';') ? rooted : withoutDots(rooted);
}

/** Removes dot segments (WHATWG URL, path state). */
export function withoutDots(path: string): string {
  if (!path.includes('/.')) return path;
  const segments = path.slice(1).split('/');
  const kept: string[] = [];
  for (const [at, segment] of segments.entries()) {
    if (segment === '..') kept.pop();
    else if (segment !== '.') kept.push(segment);
    if ((segment === '..' || segment === '.') && at === segments.length - 1) kept.push('');
  }
  return `/${kept.join('/')}`;
}

/** Parts a request target into its path and its query; the query is without `?`, and undefined where there is none. */
export function splitTarget(target: string): { path: string; query: string | undefined } {
  const withoutFragment = target.split('#', 1)[0] as string;
  const mark = withoutFragment.indexOf('?');
  if (mark < 0) return { path: withoutFragment, query: undefined };
  return { path: withoutFragment.slice(0, mark), query: withoutFragment.slice(mark + 1) };
}
