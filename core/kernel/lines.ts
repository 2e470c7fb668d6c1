import { newlineFrom } from './bytes';

/*
 * The lines of a batch, as scanners write them: pointers in one record, which `ScanCalls` of `core/src/kernel/calls.ts`
 * describes. The scanners work on one batch at a time.
 */

/** The most lines, and where each ends: the offset of its line feed; as −1 − offset where the line is left. */
let most: u32 = 0;
let ends: usize = 0;
/** Bits of the fields that a line has, and of those of which it says that there is none. */
let seenOf: usize = 0;
let noneOf: usize = 0;
let numbers: usize = 0;
let starts: usize = 0;
let lengths: usize = 0;
/** The first byte of what is scanned, which offsets are counted from. */
let first: usize = 0;
let line: u32 = 0;

/** The fields of the line at hand. */
export let seen: u32 = 0;
export let none: u32 = 0;

export function beginLines(bytes: usize, record: usize): void {
  first = bytes;
  most = load<u32>(record);
  ends = load<u32>(record + 4);
  seenOf = load<u32>(record + 8);
  noneOf = load<u32>(record + 12);
  numbers = load<u32>(record + 16);
  starts = load<u32>(record + 20);
  lengths = load<u32>(record + 24);
  line = 0;
}

export function lineCount(): u32 {
  return line;
}

export function isFull(): bool {
  return line === most;
}

export function beginLine(): void {
  seen = 0;
  none = 0;
}

/**
 * Ends the line that began there at its line feed, with the fields that it has; or, where `newline` is 0, left to who reads
 * any line. A pointer behind it.
 */
export function endLine(start: usize, newline: usize): usize {
  const isLeft = newline === 0;
  const end = isLeft ? newlineFrom(start) : newline;
  const at = (<usize>line) << 2;
  line++;
  const offset = <i32>(end - first);
  store<i32>(ends + at, isLeft ? -1 - offset : offset);
  store<u32>(seenOf + at, isLeft ? 0 : seen);
  store<u32>(noneOf + at, isLeft ? 0 : none);
  return end + 1;
}

export function see(field: u32): void {
  seen |= 1 << field;
}

export function seeNone(field: u32): void {
  none |= 1 << field;
}

export function setNumber(field: u32, value: f64): void {
  store<f64>(numbers + ((<usize>field * most + line) << 3), value);
  see(field);
}

/** Sets the run of a field, without saying that it is seen. */
export function setRun(field: u32, start: usize, end: usize): void {
  const at = (<usize>field * most + line) << 2;
  store<u32>(starts + at, <u32>(start - first));
  store<u32>(lengths + at, <u32>(end - start));
}

export function startOf(field: u32): usize {
  return first + load<u32>(starts + ((<usize>field * most + line) << 2));
}

export function lengthOf(field: u32): u32 {
  return load<u32>(lengths + ((<usize>field * most + line) << 2));
}
