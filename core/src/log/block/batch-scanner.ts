import type { LineBatch } from './line-batch.js';

/** Scans lines into a batch. */
export interface BatchScanner {
  /**
   * Scans lines of the piece that the batch has taken, which is `length` bytes and begins at `base` in the block, from an
   * offset in the piece on. Answers how many.
   */
  scan(batch: LineBatch, base: number, from: number, length: number): number;
  /** The names of the line's fields that are not a request's; in no order. */
  eachIgnored?(line: number, take: (name: string) => void): void;
  /** The fields whose place in a mapping the line does not have. */
  eachMissing?(line: number, take: (field: string) => void): void;
  /** Gives back what the scanner took of the kernel's memory. */
  end?(): void;
}
