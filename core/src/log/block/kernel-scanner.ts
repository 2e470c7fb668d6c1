import type { ScanCalls } from '../../kernel/index.js';
import type { BatchScanner } from './batch-scanner.js';
import type { LineBatch } from './line-batch.js';
import { type Step, takesTunnels } from './pattern-steps.js';

/** Scans lines of the common and combined log formats in a kernel. */
export class CombinedKernelScanner implements BatchScanner {
  readonly #scan: ScanCalls;

  constructor(scan: ScanCalls) {
    this.#scan = scan;
  }

  scan({ bytes, record }: LineBatch, _: number, from: number, length: number): number {
    return this.#scan.scanCombined(bytes, from, length, record);
  }
}

/** Scans lines of text by a pattern in a kernel. */
export class PatternKernelScanner implements BatchScanner {
  readonly #scan: ScanCalls;
  readonly #batch: LineBatch;
  readonly #count: number;
  readonly #takesTunnels: number;
  readonly #steps: number;
  readonly #pointers: number[] = [];

  /** For one block; `end` gives the memory back. */
  constructor(scan: ScanCalls, batch: LineBatch, steps: readonly Step[]) {
    this.#scan = scan;
    this.#batch = batch;
    this.#count = steps.length;
    this.#takesTunnels = Number(takesTunnels(steps));
    const keep = (values: Uint8Array | Int32Array) => {
      const pointer = batch.kernel.keep(values);
      this.#pointers.push(pointer);
      return pointer;
    };
    const words = steps.flatMap(({ text, field, quoted }) => [
      text ? keep(text) : 0,
      text?.length ?? 0,
      field,
      Number(quoted),
    ]);
    this.#steps = keep(Int32Array.from(words));
  }

  scan({ bytes, record }: LineBatch, _: number, from: number, length: number): number {
    return this.#scan.scanPattern(bytes, from, length, record, this.#steps, this.#count, this.#takesTunnels);
  }

  end(): void {
    for (const pointer of this.#pointers) this.#batch.kernel.calls.release(pointer);
  }
}
