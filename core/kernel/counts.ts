export function countCoded(codes: usize, answers: usize, count: u32, width: u32, counts: usize): void {
  for (let at: usize = 0; at < <usize>count; at++) {
    const place = counts + ((<usize>load<u32>(codes + (at << 2)) * <usize>width + <usize>load<u8>(answers + at)) << 2);
    store<u32>(place, load<u32>(place) + 1);
  }
}

/** The row at a place; with `rows` 0 it is the place. */
function rowAt(rows: usize, at: usize): usize {
  return rows === 0 ? at : <usize>load<u32>(rows + (at << 2));
}

export function countOutcomes(
  outcomes: usize,
  rows: usize,
  times: usize,
  count: u32,
  places: usize,
  order: usize,
  sums: usize,
): u32 {
  let found: u32 = 0;
  for (let at: usize = 0; at < <usize>count; at++) {
    const outcome = load<u32>(outcomes + (at << 2));
    const placeOf = places + ((<usize>outcome) << 2);
    let place = load<u32>(placeOf);
    if (place === 0) {
      store<u32>(order + ((<usize>found) << 2), outcome);
      const sum = sums + <usize>found * 24;
      store<f64>(sum, 0);
      store<f64>(sum + 8, Infinity);
      store<f64>(sum + 16, -Infinity);
      place = ++found;
      store<u32>(placeOf, place);
    }
    const sum = sums + <usize>(place - 1) * 24;
    const time = load<f64>(times + (rowAt(rows, at) << 3));
    store<f64>(sum, load<f64>(sum) + 1);
    if (time < load<f64>(sum + 8)) store<f64>(sum + 8, time);
    if (time > load<f64>(sum + 16)) store<f64>(sum + 16, time);
  }
  return found;
}

export function writeCoded(rows: usize, numbers: usize, count: u32, codeOf: usize, into: usize): void {
  for (let at: usize = 0; at < <usize>count; at++) {
    const code = load<u32>(codeOf + ((<usize>load<u32>(numbers + (at << 2))) << 2));
    store<u32>(into + (rowAt(rows, at) << 2), code);
  }
}

export function writeAnswers(rows: usize, numbers: usize, count: u32, answerOf: usize, into: usize): void {
  for (let at: usize = 0; at < <usize>count; at++)
    store<u8>(into + rowAt(rows, at), load<u8>(answerOf + <usize>load<u32>(numbers + (at << 2))));
}

export function markClasses(classes: usize, count: u32, marks: usize): void {
  for (let at: usize = 0; at < <usize>count; at++) {
    const number = load<i32>(classes + (at << 2));
    if (number >= 0) store<u8>(marks + <usize>number, 1);
  }
}

export function mapClasses(classes: usize, count: u32, map: usize, into: usize): void {
  for (let at: usize = 0; at < <usize>count; at++) {
    const number = load<i32>(classes + (at << 2));
    store<u32>(into + (at << 2), number < 0 ? 0 : load<u32>(map + ((<usize>number) << 2)));
  }
}
