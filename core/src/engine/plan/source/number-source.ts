import { type TextColumn, textCodes } from '../../../column/index.js';
import { BoundedMap } from '../../../memo/index.js';
import { makeRequest, type Request } from '../../../request/index.js';
import type { Axis } from '../axis.js';
import type { ClassColumn } from '../class-column.js';
import { ClassTable, type Matched } from '../classes.js';
import type { Block } from './block.js';
import { numbersOf, textColumn } from './columns.js';
import { type Source, type SourcePlan, unseenClass } from './source.js';

/** A source whose value is a number: a time, a size, or a port, which may follow from the scheme. */
export interface NumberSourcePlan {
  readonly axes: readonly Axis[];
  readonly column: string;
  /** The number of a request. */
  readonly numberOf: (request: Request) => number | undefined;
  /** Numbers of one step are one class, computed once. Steps have one width, or are given value by value. */
  readonly step: number | ((value: number) => number);
  readonly match: (value: number) => Matched;
  /** Whether the number follows from the scheme where the column has none. */
  readonly byScheme: boolean;
}

/** A source of bit vectors over the values of a number column. */
export const numberSource = (plan: NumberSourcePlan): SourcePlan => ({
  axes: plan.axes,
  start: (words) => new NumberSource(plan, words),
});

const MOST_STEPS = 200_000;

class NumberSource implements Source {
  readonly classes: ClassTable;
  readonly columns: readonly string[];
  readonly #plan: NumberSourcePlan;
  readonly #known = new BoundedMap<number, number>(MOST_STEPS);
  readonly #unseen: number;
  #lastStep = Number.NaN;
  #lastClass = 0;

  constructor(plan: NumberSourcePlan, words: number) {
    this.classes = new ClassTable(plan.axes, words);
    this.columns = plan.byScheme ? [plan.column, 'scheme'] : [plan.column];
    this.#plan = plan;
    this.#unseen = unseenClass(this.classes);
  }

  one(request: Request): number {
    const value = this.#plan.numberOf(request);
    return value === undefined ? this.#unseen : this.#classOf(value);
  }

  rows({ table, rows }: Block, room: Uint32Array): ClassColumn {
    const values = numbersOf(table, this.#plan.column, rows);
    const schemes = this.#plan.byScheme ? textColumn(table, 'scheme') : undefined;
    if (values) this.#own(values, room);
    else room.fill(this.#unseen, 0, rows.length);
    if (schemes) this.#byScheme(schemes, values, rows, room);
    return { codes: room };
  }

  #own(values: Float64Array, into: Uint32Array): void {
    const unseen = this.#unseen;
    // Consecutive requests often have the same number, or one of the same step.
    let from = Number.NaN;
    let upTo = Number.NaN;
    let lastClass = unseen;
    for (let at = 0; at < values.length; at++) {
      const value = values[at] as number;
      if (!(value >= from && value <= upTo)) {
        const { step } = this.#plan;
        lastClass = Number.isNaN(value) ? unseen : this.#classOf(value);
        from = typeof step === 'number' ? Math.floor(value / step) * step : value;
        upTo = typeof step === 'number' ? from + step - 1 : value;
      }
      into[at] = lastClass;
    }
  }

  /** For rows that have no number, but a scheme that it follows from. */
  #byScheme(schemes: TextColumn, values: Float64Array | undefined, rows: Uint32Array, into: Uint32Array): void {
    const { codes } = schemes;
    const classes = new Int32Array(textCodes(schemes)).fill(this.#unseen);
    for (const [at, scheme] of schemes.dictionary.entries()) classes[at + 1] = this.one(makeRequest({ scheme }));
    for (let at = 0; at < rows.length; at++) {
      if (values === undefined || Number.isNaN(values[at]))
        into[at] = classes[codes[rows[at] as number] as number] as number;
    }
  }

  #classOf(value: number): number {
    const { step: steps } = this.#plan;
    const step = typeof steps === 'number' ? Math.floor(value / steps) : steps(value);
    if (step === this.#lastStep) return this.#lastClass;
    const number = this.#known.of(step, () => this.classes.number([this.#plan.match(value)]));
    this.#lastStep = step;
    this.#lastClass = number;
    return number;
  }
}
