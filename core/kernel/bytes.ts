/** Searches 16 bytes at a time; what is searched has as many bytes of room behind. */

export const QUOTE: u8 = 34;
export const SPACE: u8 = 32;
export const BACKSLASH: u8 = 92;
export const NEWLINE: u8 = 10;
export const ZERO: u32 = 48;

/** A pointer to the next line feed, which there must be. */
export function newlineFrom(from: usize): usize {
  let at = from;
  while (true) {
    const found = i8x16.bitmask(i8x16.eq(v128.load(at), i8x16.splat(NEWLINE)));
    if (found !== 0) return at + <usize>ctz(found);
    at += 16;
  }
}

/** A pointer to the next byte that is no plain character of ASCII, or is a quote or a backslash. */
export function plainEnd(from: usize): usize {
  let at = from;
  while (true) {
    const bytes = v128.load(at);
    const marks = v128.or(i8x16.eq(bytes, i8x16.splat(QUOTE)), i8x16.eq(bytes, i8x16.splat(BACKSLASH)));
    const others = i8x16.ge_u(i8x16.sub(bytes, i8x16.splat(SPACE)), i8x16.splat(96));
    const found = i8x16.bitmask(v128.or(marks, others));
    if (found !== 0) return at + <usize>ctz(found);
    at += 16;
  }
}

/** A pointer to the next byte that is no space. */
export function spacesEnd(from: usize): usize {
  let at = from;
  while (load<u8>(at) === SPACE) at++;
  return at;
}

/** The value of so many decimal digits; −1 where one is none. */
export function digitsAt(at: usize, count: u32): i32 {
  let value: u32 = 0;
  for (let place: usize = 0; place < <usize>count; place++) {
    const digit = <u32>load<u8>(at + place) - ZERO;
    if (digit > 9) return -1;
    value = value * 10 + digit;
  }
  return <i32>value;
}

/** A pointer to the next byte that is no visible character of ASCII, or is a quote or a backslash: the end of a word. */
export function wordEnd(from: usize): usize {
  let at = from;
  while (true) {
    const bytes = v128.load(at);
    const marks = v128.or(i8x16.eq(bytes, i8x16.splat(QUOTE)), i8x16.eq(bytes, i8x16.splat(BACKSLASH)));
    // Up to the space, and from DEL on.
    const others = i8x16.ge_u(i8x16.sub(bytes, i8x16.splat(SPACE + 1)), i8x16.splat(94));
    const found = i8x16.bitmask(v128.or(marks, others));
    if (found !== 0) return at + <usize>ctz(found);
    at += 16;
  }
}

/** The same of a text in quotes, in which spaces may be. */
export function quotedEnd(from: usize): usize {
  let at = wordEnd(from);
  while (load<u8>(at) === SPACE) at = wordEnd(at + 1);
  return at;
}
