/** The first and the last half of an address, whose words have the most significant first. */
function half(place: usize): u64 {
  return rotl<u64>(load<u64>(place), 32);
}

function startsAfter(starts: usize, at: u32, high: u64, low: u64): bool {
  const place = starts + ((<usize>at) << 4);
  const own = half(place);
  return own > high || (own === high && half(place + 8) > low);
}

export function classesOfSix(
  starts: usize,
  classes: usize,
  intervals: u32,
  values: usize,
  count: u32,
  into: usize,
): void {
  let found: u32 = 0;
  for (let at: usize = 0; at < <usize>count; at++) {
    const high = half(values + (at << 4));
    const low = half(values + (at << 4) + 8);
    // Of addresses in order the next is mostly near.
    let begin: u32 = startsAfter(starts, found, high, low) ? 0 : found;
    let stride: u32 = 1;
    while (begin + stride < intervals && !startsAfter(starts, begin + stride, high, low)) {
      begin += stride;
      stride <<= 1;
    }
    let end = min(begin + stride, intervals);
    while (end - begin > 1) {
      const middle = (begin + end) >>> 1;
      if (startsAfter(starts, middle, high, low)) end = middle;
      else begin = middle;
    }
    found = begin;
    store<i32>(into + (at << 2), load<i32>(classes + ((<usize>found) << 2)));
  }
}
