import type { Address, Words } from './address.js';

/** The address as text: dotted decimal, or IPv6 in the one form of RFC 5952. */
export function formatAddress(address: Address): string {
  return address.family === 4 ? ipv4(address.value) : ipv6(address.words);
}

function ipv4(value: number): string {
  return `${value >>> 24}.${(value >>> 16) & 255}.${(value >>> 8) & 255}.${value & 255}`;
}

function ipv6(words: Words): string {
  const groups = words.flatMap((word) => [word >>> 16, word & 0xffff]);
  const [start, length] = longestZeros(groups);
  const text = (from: number, to: number) =>
    groups
      .slice(from, to)
      .map((group) => group.toString(16))
      .join(':');
  return length < 2 ? text(0, 8) : `${text(0, start)}::${text(start + length, 8)}`;
}

/** Where the longest run of zero groups starts and how long it is; the first of several as long. */
function longestZeros(groups: readonly number[]): [number, number] {
  let best: [number, number] = [0, 0];
  let start = 0;
  for (let at = 0; at <= groups.length; at++) {
    if (groups[at] === 0) continue;
    if (at - start > best[1]) best = [start, at - start];
    start = at + 1;
  }
  return best;
}
