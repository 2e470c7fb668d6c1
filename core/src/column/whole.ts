import { LayoutError } from './layout-error.js';

/*
 * Whole numbers as they are stored: f64 base, f64 step, then for each row `value − base − step × row` in as few bytes as
 * hold the largest of them; the highest that the bytes hold stands for absent. A step of 1 makes the lines of a file, of
 * which most come one behind the other, take one byte a row or none.
 */
const HEAD = 16;
const STEPS = [0, 1] as const;
const HIGHEST = { 0: 0, 1: 0xff, 2: 0xffff, 4: 0xffffffff } as const;
type Width = keyof typeof HIGHEST;

const ARRAYS = { 1: Uint8Array, 2: Uint16Array, 4: Uint32Array } as const;

/** How numbers are stored; undefined where they are not whole, or too far apart. NaN is absent. */
export function wholeBody(values: Float64Array): { readonly width: number; readonly body: Uint8Array } | undefined {
  const spans = STEPS.map((step) => spanOf(values, step)).filter((span) => span !== undefined);
  const [best] = spans.sort((a, b) => a.width - b.width);
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

/** Whether a column of so many rows can be read from the body. */
export function requireWhole(width: number, body: Uint8Array, rows: number): void {
  if (!isWidth(width) || body.length !== HEAD + rows * width)
    throw new LayoutError('a column does not have one value a row');
}

/** Reads back what `wholeBody` stored; `requireWhole` has looked at it. */
export function readWhole(width: number, body: Uint8Array, rows: number): Float64Array {
  // A copy, so that it is aligned.
  const copy = new Uint8Array(body).buffer;
  const [base, step] = new Float64Array(copy, 0, 2) as unknown as [number, number];
  const values = new Float64Array(rows);
  if (!isWidth(width) || width === 0) {
    for (let row = 0; row < rows; row++) values[row] = base + step * row;
    return values;
  }
  const offsets = new ARRAYS[width](copy, HEAD);
  const absent = HIGHEST[width];
  for (let row = 0; row < rows; row++) {
    const offset = offsets[row] as number;
    values[row] = offset === absent ? Number.NaN : base + step * row + offset;
  }
  return values;
}

const isWidth = (width: number): width is Width => Object.hasOwn(HIGHEST, width);

interface Span {
  readonly base: number;
  readonly step: number;
  readonly width: Width;
}

/** What it takes to store the numbers with the step; undefined where they cannot be. */
function spanOf(values: Float64Array, step: number): Span | undefined {
  let least = Number.POSITIVE_INFINITY;
  let most = Number.NEGATIVE_INFINITY;
  let seen = 0;
  for (let row = 0; row < values.length; row++) {
    const value = values[row] as number;
    if (Number.isNaN(value)) continue;
    seen++;
    // A number so large is not exact, and −0 would come back as 0.
    if (Math.floor(value) !== value || value > LARGEST || value < -LARGEST || (value === 0 && 1 / value < 0))
      return undefined;
    const offset = value - step * row;
    least = Math.min(least, offset);
    most = Math.max(most, offset);
  }
  if (seen === 0) return { base: 0, step, width: 1 };
  if (most === least && seen === values.length) return { base: least, step, width: 0 };
  const span = most - least;
  const width = span < HIGHEST[1] ? 1 : span < HIGHEST[2] ? 2 : span < HIGHEST[4] ? 4 : undefined;
  return width && { base: least, step, width };
}

const LARGEST = 2 ** 52;
