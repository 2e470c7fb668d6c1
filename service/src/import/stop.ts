/** Ends what several wait for: whoever waits then, or later, fails with why. */
export class Stop {
  readonly #waiting = new Set<(why: unknown) => void>();
  #stopped: { readonly why: unknown } | undefined;

  /** The first reason counts. */
  stop(why: unknown): void {
    if (this.#stopped) return;
    this.#stopped = { why };
    for (const fail of this.#waiting) fail(why);
  }

  throwIfStopped(): void {
    if (this.#stopped) throw this.#stopped.why;
  }

  /** What the promise comes to, unless it is stopped before. */
  wait<T>(promise: Promise<T>): Promise<T> {
    return new Promise((resolve, reject) => {
      if (this.#stopped) return reject(this.#stopped.why);
      this.#waiting.add(reject);
      const settled = () => this.#waiting.delete(reject);
      promise.then(
        (value) => {
          settled();
          resolve(value);
        },
        (error) => {
          settled();
          reject(error);
        },
      );
    });
  }
}
