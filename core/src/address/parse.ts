import type { Address } from './address.js';

/** Why a text is not an address. */
export type AddressFault = 'empty' | 'octet' | 'leading-zero' | 'zone' | 'shape';

const DIGIT_0 = 48;
const DOT = 46;
const COLON = 58;

/**
 * Reads an IPv4 address in dotted decimal or an IPv6 address in any text form of RFC 4291, section 2.2.
 * Octets with a leading zero are refused, since some readers take them for octal. Zones (`%eth0`) are refused.
 */
export function tryAddress(text: string): Address | AddressFault {
  if (text === '') return 'empty';
  // Most IPv6 addresses begin with a group of four digits.
  if (text.length > 4 && text.charCodeAt(4) === COLON) return ipv6(text);
  const four = ipv4(text, 0);
  return typeof four === 'string' && text.includes(':') ? ipv6(text) : four;
}

/** The address of the text, or undefined. */
export function parseAddress(text: string): Address | undefined {
  const result = tryAddress(text);
  return typeof result === 'string' ? undefined : result;
}

function ipv4(text: string, from: number): Address | AddressFault {
  const { length } = text;
  let value = 0;
  let at = from;
  for (let octets = 1; ; octets++) {
    const start = at;
    let octet = 0;
    let unit = 0;
    for (; at < length; at++) {
      unit = text.charCodeAt(at) - DIGIT_0;
      if (unit < 0 || unit > 9) break;
      octet = octet * 10 + unit;
      if (octet > 255 || at - start > 2) return 'octet';
    }
    if (at === start || (at < length && unit !== DOT - DIGIT_0)) return 'shape';
    if (at - start > 1 && text.charCodeAt(start) === DIGIT_0) return 'leading-zero';
    value = value * 256 + octet;
    if (at === length) return octets === 4 ? { family: 4, value } : 'shape';
    if (octets === 4) return 'shape';
    at++;
  }
}

/**
 * Eight groups, with `::` once for a run of zeros, and an IPv4 address for the last two when there is a dot. Reads
 * the text once, group by group, since this is what a log's addresses and look-ups spend their time in.
 */
function ipv6(text: string): Address | AddressFault {
  let found = 0;
  let gap = -1;
  let group = 0;
  let digits = 0;
  let start = 0;
  const { length } = text;
  if (text.charCodeAt(0) === COLON && text.charCodeAt(1) !== COLON) return text.includes('%') ? 'zone' : 'shape';
  for (let at = 0; at <= length; at++) {
    const unit = at < length ? text.charCodeAt(at) : COLON;
    const digit = unit < 128 ? (HEX[unit] as number) : -1;
    if (digit >= 0) {
      if (++digits > 4) return text.includes('%') ? 'zone' : 'shape';
      group = (group << 4) | digit;
      continue;
    }
    if (unit === DOT) {
      const inner = found <= 6 ? ipv4(text, start) : 'shape';
      if (typeof inner === 'string') return text.includes('%') ? 'zone' : inner;
      const { value } = inner as { readonly value: number };
      groups[found++] = value >>> 16;
      groups[found++] = value & 0xffff;
      digits = 0;
      break;
    }
    if (unit !== COLON) return text.includes('%') ? 'zone' : 'shape';
    if (digits > 0) {
      if (found === 8) return 'shape';
      groups[found++] = group;
    } else if (at < length) {
      // A colon with nothing before it is the second of `::`, or one too many.
      if (at === 0) continue;
      if (gap >= 0 || text.charCodeAt(at - 1) !== COLON) return text.includes('%') ? 'zone' : 'shape';
      gap = found;
    } else if (gap !== found) {
      return 'shape';
    }
    group = 0;
    digits = 0;
    start = at + 1;
  }
  if (gap < 0 ? found !== 8 : found > 7) return text.includes('%') ? 'zone' : 'shape';
  return fromGroups(found, gap < 0 ? found : gap);
}

/** The groups of the address that is being read. */
const groups = new Int32Array(8);
/** The value of each hexadecimal digit by its character; -1 of what is none. */
const HEX = Int8Array.from({ length: 128 }, (_, unit) =>
  '0123456789abcdef'.indexOf(String.fromCharCode(unit).toLowerCase()),
);

/** The address of the groups that were read; those behind `gap` belong to the end, with zeros between. */
function fromGroups(found: number, gap: number): Address {
  if (found < 8) {
    groups.copyWithin(8 - (found - gap), gap, found);
    groups.fill(0, gap, 8 - (found - gap));
  }
  const [a, b, c, d] = [wordAt(0), wordAt(2), wordAt(4), wordAt(6)];
  return a === 0 && b === 0 && c === 0xffff ? { family: 4, value: d } : { family: 6, words: [a, b, c, d] };
}

const wordAt = (group: number): number => (((groups[group] as number) << 16) | (groups[group + 1] as number)) >>> 0;
