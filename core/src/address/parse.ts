import type { Address, Words } from './address.js';

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
  return text.includes(':') ? ipv6(text) : ipv4(text);
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
  for (let at = 0; at <= text.length; at++) {
    const unit = at < text.length ? text.charCodeAt(at) : 46;
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

function ipv6(text: string): Address | AddressFault {
  if (text.includes('%')) return 'zone';
  const halves = text.split('::');
  if (halves.length > 2) return 'shape';
  const head = groups(halves[0] as string, halves.length === 1);
  const tail = halves.length === 2 ? groups(halves[1] as string, true) : [];
  if (typeof head === 'string') return head;
  if (typeof tail === 'string') return tail;
  const missing = 8 - head.length - tail.length;
  if (halves.length === 1 ? missing !== 0 : missing < 1) return 'shape';
  const all = [...head, ...new Array<number>(missing).fill(0), ...tail];
  const words = [0, 2, 4, 6].map((at) => (all[at] as number) * 65536 + (all[at + 1] as number)) as unknown as Words;
  const mapped = words[0] === 0 && words[1] === 0 && words[2] === 0xffff;
  return mapped ? { family: 4, value: words[3] } : { family: 6, words };
}

/** The 16-bit groups of one side of `::`; the last may be a dotted IPv4 address where `last` says so. */
function groups(text: string, last: boolean): number[] | AddressFault {
  if (text === '') return [];
  const parts = text.split(':');
  const found: number[] = [];
  for (const [index, part] of parts.entries()) {
    if (last && index === parts.length - 1 && part.includes('.')) {
      const inner = ipv4(part);
      if (typeof inner === 'string') return inner;
      if (inner.family === 4) found.push(inner.value >>> 16, inner.value & 0xffff);
    } else if (/^[0-9a-f]{1,4}$/i.test(part)) {
      found.push(Number.parseInt(part, 16));
    } else {
      return 'shape';
    }
  }
  return found;
}
