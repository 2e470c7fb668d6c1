import type { Address } from './address.js';

/** Why a text is not an address. */
export type AddressFault = 'empty' | 'octet' | 'leading-zero' | 'zone' | 'shape';

const DIGIT_0 = 48;
const DIGIT_9 = 57;

/**
 * Reads an IPv4 address in dotted decimal or an IPv6 address in any text form of RFC 4291, section 2.2.
 * Octets with a leading zero are refused, since some readers take them for octal. Zones (`%eth0`) are refused.
 */
export function tryAddress(text: string): Address | AddressFault {
  if (text === '') return 'empty';
  if (startsAsSix(text)) return ipv6(text);
  const four = ipv4(text);
  return typeof four === 'string' && text.includes(':') ? ipv6(text) : four;
}

/** The first group of an IPv6 address has at most four digits, so that its colon comes early. */
function startsAsSix(text: string): boolean {
  for (let at = 0; at < 5; at++) if (text.charCodeAt(at) === COLON) return true;
  return false;
}

/** The address that the text tells, or undefined. */
export function parseAddress(text: string): Address | undefined {
  const result = tryAddress(text);
  return typeof result === 'string' ? undefined : result;
}

function ipv4(text: string): Address | AddressFault {
  let value = 0;
  let octet = -1;
  let octets = 0;
  let start = 0;
  const { length } = text;
  for (let at = 0; at <= length; at++) {
    const unit = at < length ? text.charCodeAt(at) : 46;
    if (unit >= DIGIT_0 && unit <= DIGIT_9) {
      octet = (octet < 0 ? 0 : octet * 10) + unit - DIGIT_0;
      if (at - start > 2 || octet > 255) return 'octet';
      continue;
    }
    if (unit !== 46 || octet < 0) return 'shape';
    if (at - start > 1 && text.charCodeAt(start) === DIGIT_0) return 'leading-zero';
    value = value * 256 + octet;
    octets++;
    octet = -1;
    start = at + 1;
  }
  return octets === 4 ? { family: 4, value } : 'shape';
}

/**
 * Eight groups, with `::` once for a run of zeros, and an IPv4 address for the last two where a dot tells so. Reads
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
      group = group * 16 + digit;
      continue;
    }
    if (unit === DOT) {
      const inner = found <= 6 ? ipv4(text.slice(start)) : 'shape';
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

const COLON = 58;
const DOT = 46;
/** The groups of the address that is being read. */
const groups = new Int32Array(8);
/** The value of each hexadecimal digit by its character; -1 of what is none. */
const HEX = Int8Array.from({ length: 128 }, (_, unit) =>
  '0123456789abcdef'.indexOf(String.fromCharCode(unit).toLowerCase()),
);

/** The address of the groups that were read; those behind `gap` belong to the end, with zeros between. */
function fromGroups(found: number, gap: number): Address {
  let to = 7;
  for (let from = found - 1; from >= gap; from--, to--) groups[to] = groups[from] as number;
  for (; to >= gap; to--) groups[to] = 0;
  const a = (groups[0] as number) * 65536 + (groups[1] as number);
  const b = (groups[2] as number) * 65536 + (groups[3] as number);
  const c = (groups[4] as number) * 65536 + (groups[5] as number);
  const d = (groups[6] as number) * 65536 + (groups[7] as number);
  return a === 0 && b === 0 && c === 0xffff ? { family: 4, value: d } : { family: 6, words: [a, b, c, d] };
}
