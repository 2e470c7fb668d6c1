/** The earliest and the latest of the times that it was given, in milliseconds since 1970. */
export class TimeSpan {
  #first = Number.POSITIVE_INFINITY;
  #last = Number.NEGATIVE_INFINITY;

  /** Takes a time; NaN is none. */
  add(time: number): void {
    if (time < this.#first) this.#first = time;
    if (time > this.#last) this.#last = time;
  }

  get first(): string | null {
    return Number.isFinite(this.#first) ? new Date(this.#first).toISOString() : null;
  }

  get last(): string | null {
    return Number.isFinite(this.#last) ? new Date(this.#last).toISOString() : null;
  }
}
