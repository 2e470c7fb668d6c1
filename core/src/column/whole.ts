import type { NumberColumn, RowCodes } from './column.js';
import { LayoutError } from './layout-error.js';

/*
 * Whole numbers as they are stored: f64 base, f64 step, then for each row `value − base − step × row` in as few bytes as
 * hold the largest of them; the highest value of those bytes means absent. A step of 1 makes the lines of a file, of
 * which most come one behind the other, take one byte a row or none.
 */
const HEAD = 16;
const STEPS = [0, 1] as const;
const HIGHEST = { 0: 0, 1: 0xff, 2: 0xffff, 4: 0xffffffff } as const;
type Width = keyof typeof HIGHEST;

const ARRAYS = { 1: Uint8Array, 2: Uint16Array, 4: Uint32Array } as const;

/** How numbers are stored; undefined where they are not whole, or too far apart. NaN is absent. */
export function wholeBody(values: Float64Array): { readonly width: number; readonly body: Uint8Array } | undefined {
  const [best] = spansOf(values).sort((a, b) => a.width - b.width);
  if (best === undefined) return undefined;
  const { base, step, width } = best;
  const body = new Uint8Array(HEAD + values.length * width);
  const view = new DataView(body.buffer);
  view.setFloat64(0, base, true);
  view.setFloat64(8, step, true);
  if (width === 0) return { width, body };
  const offsets = new ARRAYS[width](body.buffer, HEAD);
  for (let row = 0; row < values.length; row++) {
    const value = values[row] as number;
    offsets[row] = Number.isNaN(value) ? HIGHEST[width] : value - base - step * row;
  }
  return { width, body };
}

/** Whether the body can be read as a column of this many rows. */
export function requireWhole(width: number, body: Uint8Array, rows: number): void {
  if (!isWidth(width) || body.length !== HEAD + rows * width)
    throw new LayoutError('a column does not have one value a row');
}

/** Reads back what `wholeBody` stored; `requireWhole` has looked at it. */
export function readWhole(width: number, body: Uint8Array, rows: number): Float64Array {
  // A copy, so that it is aligned.
  const copy = new Uint8Array(body).buffer;
  const head = new Float64Array(copy, 0, 2);
  const base = head[0] as number;
  const step = head[1] as number;
  const values = new Float64Array(rows);
  if (!isWidth(width) || width === 0) {
    for (let row = 0; row < rows; row++) values[row] = base + step * row;
    return values;
  }
  // All of one width, which the loop is fast for.
  const offsets = width === 4 ? new Uint32Array(copy, HEAD) : new Uint32Array(new ARRAYS[width](copy, HEAD));
  const absent = HIGHEST[width];
  for (let row = 0; row < rows; row++) {
    const offset = offsets[row] as number;
    values[row] = offset === absent ? Number.NaN : base + step * row + offset;
  }
  return values;
}

/** The value of one row of what `wholeBody` stored. */
export function readWholeAt(width: number, body: Uint8Array, row: number): number {
  const view = new DataView(body.buffer, body.byteOffset, body.byteLength);
  const value = view.getFloat64(0, true) + view.getFloat64(8, true) * row;
  if (!isWidth(width) || width === 0) return value;
  const at = HEAD + row * width;
  const offset = width === 1 ? view.getUint8(at) : width === 2 ? view.getUint16(at, true) : view.getUint32(at, true);
  return offset === HIGHEST[width] ? Number.NaN : value + offset;
}

/** Codes of what `wholeBody` stored, where it is one byte a row at most, and nothing is counted on row by row. */
export function codedWhole(width: number, body: Uint8Array, rows: number): RowCodes | undefined {
  const step = new DataView(body.buffer, body.byteOffset, body.byteLength).getFloat64(8, true);
  if (width > 1 || step !== 0) return undefined;
  return width === 0
    ? { codes: new Uint32Array(rows), count: 1 }
    : { codes: new Uint32Array(body.subarray(HEAD)), count: HIGHEST[1] + 1 };
}

/** The value of a row of a column of numbers. */
export const numberAt = (column: NumberColumn, row: number): number =>
  column.at ? column.at(row) : (column.values[row] as number);

const isWidth = (width: number): width is Width => Object.hasOwn(HIGHEST, width);

interface Span {
  readonly base: number;
  readonly step: number;
  readonly width: Width;
}

/** The size of the numbers stored with each step; steps that do not fit are left out. */
function spansOf(values: Float64Array): Span[] {
  const least = [Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY] as [number, number];
  const most = [Number.NEGATIVE_INFINITY, Number.NEGATIVE_INFINITY] as [number, number];
  let seen = 0;
  for (let row = 0; row < values.length; row++) {
    const value = values[row] as number;
    if (Number.isNaN(value)) continue;
    seen++;
    // A number so large is not exact, and −0 would come back as 0.
    if (Math.floor(value) !== value || value > LARGEST || value < -LARGEST || (value === 0 && 1 / value < 0)) return [];
    if (value < least[0]) least[0] = value;
    if (value > most[0]) most[0] = value;
    const offset = value - row;
    if (offset < least[1]) least[1] = offset;
    if (offset > most[1]) most[1] = offset;
  }
  return STEPS.flatMap((step): Span[] => {
    const [base, highest] = [least[step], most[step]];
    if (seen === 0) return [{ base: 0, step, width: 1 }];
    if (highest === base && seen === values.length) return [{ base, step, width: 0 }];
    const span = highest - base;
    const width = span < HIGHEST[1] ? 1 : span < HIGHEST[2] ? 2 : span < HIGHEST[4] ? 4 : undefined;
    return width ? [{ base, step, width }] : [];
  });
}

const LARGEST = 2 ** 52;
