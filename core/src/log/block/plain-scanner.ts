import type { BatchScanner } from './batch-scanner.js';
import type { LineBatch } from './line-batch.js';
import type { LineFields } from './line-fields.js';

const NEWLINE = 10;

/** Scans one line at a time. */
export interface LineScanner {
  readonly fields: LineFields;
  /** Scans the line that begins there; the offset of its line feed, or below 0 where the line is left. */
  scan(start: number): number;
  eachIgnored?(take: (name: string) => void): void;
  eachMissing?(take: (field: string) => void): void;
}

/** Scans lines into a batch by a scanner of single lines; without one all lines are left. */
export class PlainScanner implements BatchScanner {
  readonly #bytes: Uint8Array;
  readonly #scanner: LineScanner | undefined;
  /** By line, what is noted of it. */
  #ignored: (string[] | undefined)[] = [];
  #missing: (string[] | undefined)[] = [];
  /** The line that notes are of. */
  #noted = 0;
  readonly #noteIgnored = (name: string) => note(this.#ignored, this.#noted, name);
  readonly #noteMissing = (field: string) => note(this.#missing, this.#noted, field);

  constructor(bytes: Uint8Array, scanner: LineScanner | undefined) {
    this.#bytes = bytes;
    this.#scanner = scanner;
  }

  scan(batch: LineBatch, base: number, from: number, length: number): number {
    batch.view();
    this.#ignored = [];
    this.#missing = [];
    const scanner = this.#scanner;
    let count = 0;
    for (let at = base + from; count < batch.most && at < base + length; count++) {
      const end = scanner ? scanner.scan(at) : -1;
      if (end < 0) {
        const newline = this.#bytes.indexOf(NEWLINE, at);
        batch.seen[count] = 0;
        batch.ends[count] = -1 - (newline - base);
        at = newline + 1;
        continue;
      }
      batch.set(count, (scanner as LineScanner).fields, base);
      batch.ends[count] = end - base;
      this.#note(count);
      at = end + 1;
    }
    return count;
  }

  eachIgnored(line: number, take: (name: string) => void): void {
    for (const name of this.#ignored[line] ?? []) take(name);
  }

  eachMissing(line: number, take: (field: string) => void): void {
    for (const field of this.#missing[line] ?? []) take(field);
  }

  #note(line: number): void {
    const scanner = this.#scanner;
    this.#noted = line;
    scanner?.eachIgnored?.(this.#noteIgnored);
    scanner?.eachMissing?.(this.#noteMissing);
  }
}

function note(notes: (string[] | undefined)[], line: number, name: string): void {
  const own = notes[line];
  if (own) own.push(name);
  else notes[line] = [name];
}
