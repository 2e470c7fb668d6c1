import { type Address, parseAddress } from '../address/index.js';

/** A hop of a forwarding header: an address, or undefined where the hop is malformed, hidden or unknown. */
export type Hop = Address | undefined;

const LONGEST_HEADER = 8192;

/** The hops that a forwarding header tells, the nearest last. `forwarded` is read by RFC 7239, any other as a plain list. */
export function readHops(header: string, value: string): Hop[] {
  if (value.length > LONGEST_HEADER) return [undefined];
  const elements = splitOutsideQuotes(value, ',');
  return elements.map((element) => (header === 'forwarded' ? forElement(element) : node(element.trim())));
}

/** The node of the `for` parameter of one element of `Forwarded`. */
function forElement(element: string): Hop {
  const pairs = splitOutsideQuotes(element, ';').map((pair) => pair.trim());
  const found = pairs.filter((pair) => /^for=/i.test(pair));
  if (found.length !== 1) return undefined;
  const value = (found[0] as string).slice('for='.length);
  const quoted = /^"((?:[^"\\]|\\.)*)"$/.exec(value);
  return node(quoted ? (quoted[1] as string).replace(/\\(.)/g, '$1') : value);
}

/** An address with or without a port; an IPv6 address with a port stands in brackets (RFC 7239, section 6). */
function node(text: string): Hop {
  const bracketed = /^\[([^\]]*)\](?::\d{1,5})?$/.exec(text);
  if (bracketed) return parseAddress(bracketed[1] as string);
  const withPort = /^([0-9.]+):\d{1,5}$/.exec(text);
  return parseAddress(withPort ? (withPort[1] as string) : text);
}

function splitOutsideQuotes(text: string, separator: string): string[] {
  if (!text.includes('"')) return text.split(separator);
  const parts: string[] = [];
  let quoted = false;
  let start = 0;
  for (let at = 0; at < text.length; at++) {
    const character = text[at];
    if (quoted && character === '\\') at++;
    else if (character === '"') quoted = !quoted;
    else if (character === separator && !quoted) {
      parts.push(text.slice(start, at));
      start = at + 1;
    }
  }
  parts.push(text.slice(start));
  return parts;
}
