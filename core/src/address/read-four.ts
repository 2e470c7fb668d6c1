const ZERO = 48;
const DOT = 46;

/** The value of an IPv4 address in dotted decimals (RFC 6943, section 3.1.1, strict); −1 where the bytes are none. */
export function readFour(bytes: Uint8Array, start: number, end: number): number {
  let value = 0;
  let octet = -1;
  let dots = 0;
  for (let at = start; at < end; at++) {
    const byte = bytes[at] as number;
    if (byte === DOT) {
      if (octet < 0) return -1;
      value = value * 256 + octet;
      octet = -1;
      dots++;
      continue;
    }
    const digit = byte - ZERO;
    // A zero in front could mean an octal number to some.
    if (digit < 0 || digit > 9 || octet === 0) return -1;
    octet = octet < 0 ? digit : octet * 10 + digit;
    if (octet > 255) return -1;
  }
  return dots === 3 && octet >= 0 ? value * 256 + octet : -1;
}
