/** A log that is being sent to this service. */
export interface Upload {
  /** The number of its import. */
  readonly id: number;
  /** Whether it is kept, so that it can be read again whatever becomes of its sender. */
  readonly keeps: boolean;
  /** Its bytes as they come, from the first on; for one reader. */
  follower(signal: AbortSignal): AsyncGenerator<Buffer>;
  /** Has the sending fail, and whoever reads it, too. The first reason counts. */
  stop(why: unknown): void;
  /** Fails with why it was stopped, where it was. */
  throwIfStopped(): void;
}

/** What is sent, and how much of that may come. */
export interface Sent {
  readonly bytes: AsyncIterable<Buffer>;
  readonly maxBytes: number;
}
