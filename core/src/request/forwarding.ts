import { type Address, parseAddress, withoutZone } from '../address/index.js';

/** A hop of a forwarding header: an address, or undefined where the hop is hidden, unknown or cannot be read. */
export type Hop = Address | undefined;

/**
 * The hops that a forwarding header names, the nearest first. Each proxy appends at the right end, so the header is read
 * from there: what a client wrote to the left of a proxy's element cannot change how that element is read. Empty
 * elements are passed over (RFC 9110, 5.6.1). `forwarded` is read by RFC 7239; any other header is a plain list of
 * addresses, which knows no quotes.
 */
export function* hopsOf(header: string, value: string): Generator<Hop> {
  const separator =
    header === 'forwarded' ? separatorBefore : (text: string, end: number) => text.lastIndexOf(',', end);
  for (let end = value.length; end >= 0; ) {
    const before = end === 0 ? -1 : separator(value, end - 1);
    const element = value.slice(before + 1, end).trim();
    if (element !== '') yield header === 'forwarded' ? forParameter(element) : node(element);
    end = before;
  }
}

/** The last comma up to `end` that is in no quoted string, reading from the right; -1 where there is none. */
function separatorBefore(text: string, end: number): number {
  let quoted = false;
  for (let at = end; at >= 0; at--) {
    if (text[at] === '"') quoted = quoted ? isEscaped(text, at) : true;
    else if (text[at] === ',' && !quoted) return at;
  }
  return -1;
}

/** Whether an odd number of backslashes is before the place. */
function isEscaped(text: string, at: number): boolean {
  let backslashes = 0;
  while (text[at - 1 - backslashes] === '\\') backslashes++;
  return backslashes % 2 === 1;
}

const TOKEN = "[!#$%&'*+.^_`|~0-9A-Za-z-]+";
const PAIR = `${TOKEN}=(?:${TOKEN}|"(?:[^"\\\\]|\\\\.)*")`;
/** RFC 7239, section 4, with blanks around semicolons, and pairs left empty. */
const ELEMENT = new RegExp(`^(?:${PAIR})?(?:[ \\t]*;[ \\t]*(?:${PAIR})?)*$`);
const FOR = new RegExp(`(?:^|;)[ \\t]*for=(${TOKEN}|"(?:[^"\\\\]|\\\\.)*")`, 'gi');
const QUOTED = /"(?:[^"\\]|\\.)*"/g;

/** The node of the only `for` parameter of one element of `Forwarded`. */
function forParameter(element: string): Hop {
  if (!ELEMENT.test(element)) return undefined;
  // A semicolon within quotes begins no parameter.
  const hidden = element.replace(QUOTED, (quoted) => quoted.replaceAll(';', '\0'));
  const [found, ...others] = [...hidden.matchAll(FOR)];
  if (found === undefined || others.length > 0) return undefined;
  const value = found[1] as string;
  return node(value.startsWith('"') ? value.slice(1, -1).replace(/\\(.)/g, '$1') : value);
}

/** An address with or without a port; an IPv6 address with a port is in brackets (RFC 7239, section 6). */
function node(text: string): Hop {
  const bracketed = /^\[([^\]]*)\](?::\d{1,5})?$/.exec(text);
  if (bracketed) return parseAddress(withoutZone(bracketed[1] as string));
  const withPort = /^([0-9.]+):\d{1,5}$/.exec(text);
  return parseAddress(withoutZone(withPort ? (withPort[1] as string) : text));
}
