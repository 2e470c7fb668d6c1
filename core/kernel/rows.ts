const UNKNOWN: i32 = -1;
const UNRESOLVED: i32 = -2;

function at4(place: usize, at: usize): u32 {
  return load<u32>(place + (at << 2));
}

export function gather(codes: usize, rows: usize, count: u32, into: usize): void {
  for (let at: usize = 0; at < <usize>count; at++) store<u32>(into + (at << 2), at4(codes, at4(rows, at)));
}

export function cross(
  left: usize,
  leftClasses: usize,
  right: usize,
  rightClasses: usize,
  pairs: usize,
  width: u32,
  from: u32,
  count: u32,
  into: usize,
): u32 {
  if (leftClasses === 0) {
    if (rightClasses === 0)
      for (let at: usize = from; at < <usize>count; at++) {
        const number = <i32>at4(pairs, at4(left, at) * width + at4(right, at));
        if (number === UNKNOWN) return <u32>at;
        store<i32>(into + (at << 2), number);
      }
    else
      for (let at: usize = from; at < <usize>count; at++) {
        const number = <i32>at4(pairs, at4(left, at) * width + at4(rightClasses, at4(right, at)));
        if (number === UNKNOWN) return <u32>at;
        store<i32>(into + (at << 2), number);
      }
    return count;
  }
  if (rightClasses === 0)
    for (let at: usize = from; at < <usize>count; at++) {
      const number = <i32>at4(pairs, at4(leftClasses, at4(left, at)) * width + at4(right, at));
      if (number === UNKNOWN) return <u32>at;
      store<i32>(into + (at << 2), number);
    }
  else
    for (let at: usize = from; at < <usize>count; at++) {
      const number = <i32>at4(pairs, at4(leftClasses, at4(left, at)) * width + at4(rightClasses, at4(right, at)));
      if (number === UNKNOWN) return <u32>at;
      store<i32>(into + (at << 2), number);
    }
  return count;
}

export function outcomesOf(
  numbers: usize,
  base: u32,
  resolved: usize,
  known: u32,
  from: u32,
  count: u32,
  into: usize,
): u32 {
  for (let at: usize = from; at < <usize>count; at++) {
    const number = at4(numbers, at) - base;
    const outcome = number < known ? <i32>at4(resolved, number) : UNRESOLVED;
    if (outcome === UNRESOLVED) return <u32>at;
    store<i32>(into + (at << 2), outcome);
  }
  return count;
}

export function narrow(
  codes: usize,
  one: usize,
  ones: u32,
  other: usize,
  others: u32,
  known: usize,
  rows: u32,
  examples: usize,
): u32 {
  let kinds: u32 = 0;
  for (let row: usize = 0; row < <usize>rows; row++) {
    const place = known + ((<usize>((at4(codes, row) * ones + at4(one, row)) * others + at4(other, row))) << 2);
    let kind = load<u32>(place);
    if (kind === 0) {
      store<u32>(examples + ((<usize>kinds) << 2), row);
      kind = ++kinds;
      store<u32>(place, kind);
    }
    store<u32>(codes + (row << 2), kind - 1);
  }
  return kinds;
}

export function pairClasses(
  shared: usize,
  own: usize,
  width: u32,
  pairs: usize,
  unseen: i32,
  from: u32,
  count: u32,
  into: usize,
): u32 {
  for (let at: usize = from; at < <usize>count; at++) {
    const ofShared = load<i32>(shared + (at << 2));
    let number = unseen;
    if (ofShared >= 0) {
      number = <i32>at4(pairs, <u32>ofShared * width + at4(own, at));
      if (number === UNKNOWN) return <u32>at;
    }
    store<i32>(into + (at << 2), number);
  }
  return count;
}

export function scatter(rows: usize, values: usize, count: u32, into: usize): void {
  for (let at: usize = 0; at < <usize>count; at++) store<u32>(into + ((<usize>at4(rows, at)) << 2), at4(values, at));
}
