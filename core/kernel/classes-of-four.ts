/** More intervals than this that start in one upper half are searched by halving first. */
const SCANNED: u32 = 64;
const LANES: u32 = 8;

export function classesOfFour(
  first: usize,
  low: usize,
  classes: usize,
  wide: bool,
  values: usize,
  count: u32,
  into: usize,
): void {
  for (let at: u32 = 0; at < count; at++) {
    const value = load<u32>(values + ((<usize>at) << 2));
    const half = first + ((<usize>(value >>> 16)) << 2);
    const found = lastIn(low, load<u32>(half), load<u32>(half + 4), value & 0xffff);
    const number = wide ? load<i32>(classes + ((<usize>found) << 2)) : <i32>load<u16>(classes + ((<usize>found) << 1));
    store<i32>(into + ((<usize>at) << 2), number);
  }
}

/** The last interval before `to` that starts at or before the value; the one before `from` where none from there on does. */
function lastIn(low: usize, from: u32, to: u32, value: u32): u32 {
  while (to - from > SCANNED) {
    const middle = (from + to) >>> 1;
    if (<u32>load<u16>(low + ((<usize>middle) << 1)) <= value) from = middle;
    else to = middle;
  }
  // Eight are compared at once, and counted without a branch, which would mostly be guessed wrong.
  const wanted = i16x8.splat(<i16>value);
  let found = from - 1;
  while (from + LANES <= to) {
    found += popcnt(<u32>i16x8.bitmask(i16x8.le_u(v128.load(low + ((<usize>from) << 1)), wanted)));
    from += LANES;
  }
  const rest = <u32>i16x8.bitmask(i16x8.le_u(v128.load(low + ((<usize>from) << 1)), wanted));
  return found + popcnt(rest & ((1 << (to - from)) - 1));
}
