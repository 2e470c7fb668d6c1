import { escapedBytes, keptBytes, percentDecoded } from './percent.js';

/** `& = % # +` divide a query or mean a blank, so that their escapes are kept. */
const KEPT = keptBytes('&=%#+');

/**
 * The normal form of a query: pairs that are empty left out, `+` a blank, all percent-encoding undone but
 * `%26 %3D %25 %23 %2B`. The normal form of it is itself.
 */
export function normalQuery(query: string): string {
  if (/^[\w=.~*-]*$/.test(query)) return query;
  const pairs = query.split('&').filter((pair) => pair !== '');
  return percentDecoded(pairs.join('&').replaceAll('+', ' '), KEPT);
}

/** The values of a query's parameter, decoded as forms are (WHATWG URL, application/x-www-form-urlencoded). */
export function queryValues(query: string, name: string): string[] {
  return query.split('&').flatMap((pair) => {
    const mark = pair.indexOf('=');
    const [own, value] = mark < 0 ? [pair, ''] : [pair.slice(0, mark), pair.slice(mark + 1)];
    return pair !== '' && formDecoded(own) === name ? [formDecoded(value)] : [];
  });
}

const utf8 = new TextDecoder('utf-8', { ignoreBOM: true });

/** Decodes a form's text: `+` is a blank, invalid UTF-8 is replaced, and a stray `%` is literal. */
function formDecoded(text: string): string {
  const spaced = text.replaceAll('+', ' ');
  return spaced.includes('%') ? spaced.replace(/(?:%[0-9a-f]{2})+/gi, (run) => utf8.decode(escapedBytes(run))) : spaced;
}

/** The values of the cookies of that name in a `Cookie` header (RFC 6265, section 4.2), without their quotes. */
export function cookieValues(header: string, name: string): string[] {
  return header.split(';').flatMap((pair) => {
    const mark = pair.indexOf('=');
    return mark >= 0 && pair.slice(0, mark).trim() === name ? [unquoted(pair.slice(mark + 1).trim())] : [];
  });
}

const unquoted = (text: string): string => (/^".*"$/.test(text) ? text.slice(1, -1) : text);
