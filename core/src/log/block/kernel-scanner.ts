import { hashSecrets } from '../../column/index.js';
import type { ScanCalls } from '../../kernel/index.js';
import type { BatchScanner } from './batch-scanner.js';
import { purposeOf } from './json-scanner.js';
import type { LineBatch } from './line-batch.js';

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

/** More distinct keys than this, and lines with new ones are left. */
const MOST_KEYS = 4096;
const IGNORED_ROOM = 16_384;
/** Words of the record of keys, of which the scanner changes those from `STAMP` on. */
const WORDS = 13;
const KNOWN = 1;
const UNKNOWN_AT = 11;
const UNKNOWN_LENGTH = 12;

const decoder = new TextDecoder();

/** Scans lines of flat JSON objects in a kernel, which stops at a key that it does not know until that is learned. */
export class JsonKernelScanner implements BatchScanner {
  readonly #scan: ScanCalls;
  readonly #batch: LineBatch;
  readonly #names: string[] = [];
  readonly #arena: number;
  readonly #pointers: number[] = [];
  readonly #record: number;
  readonly #purposes: number;
  readonly #ignored: number;
  readonly #ignoredEnds: number;
  /** The ignored keys of the lines at hand, and where those of each line end. */
  #keys: Uint32Array = new Uint32Array(0);
  #ends: Uint32Array = new Uint32Array(0);
  /** How many ignored keys they have together. */
  #count = 0;

  /** For one block; `end` gives the memory back. */
  constructor(scan: ScanCalls, batch: LineBatch) {
    this.#scan = scan;
    this.#batch = batch;
    const { kernel } = batch;
    const allocate = (words: number) => {
      const pointer = kernel.calls.allocate(words * 4);
      this.#pointers.push(pointer);
      return pointer;
    };
    this.#arena = kernel.calls.newArena();
    this.#purposes = allocate(MOST_KEYS);
    const [next, at, lengths, last] = [0, 1, 2, 3].map(() => allocate(MOST_KEYS + 1)) as number[];
    kernel.words(last as number, MOST_KEYS + 1).fill(0);
    this.#ignored = allocate(IGNORED_ROOM);
    this.#ignoredEnds = allocate(batch.most);
    this.#record = allocate(WORDS);
    const pointers = [this.#purposes, next, at, lengths, last, this.#ignored, this.#ignoredEnds] as number[];
    kernel.write(this.#record, Uint32Array.of(this.#arena, 0, ...pointers, IGNORED_ROOM, 0, 0, 0));
  }

  scan({ kernel, bytes, record }: LineBatch, _: number, from: number, length: number): number {
    const { start, spread } = hashSecrets();
    for (;;) {
      const count = this.#scan.scanJson(bytes, from, length, record, this.#record, start, spread);
      const known = kernel.words(this.#record, WORDS);
      const at = known[UNKNOWN_AT] as number;
      if (at === 0) return this.#scanned(count);
      const name = decoder.decode(kernel.bytes(bytes + at, known[UNKNOWN_LENGTH] as number));
      kernel.ints(this.#purposes, MOST_KEYS)[this.#names.length] = purposeOf(name);
      known[KNOWN] = this.#names.push(name);
      if (count > 0) return this.#scanned(count);
    }
  }

  eachIgnored(line: number, take: (name: string) => void): void {
    if (this.#count === 0) return;
    this.#view();
    const end = this.#ends[line] as number;
    for (let at = line === 0 ? 0 : (this.#ends[line - 1] as number); at < end; at++)
      take(this.#names[this.#keys[at] as number] as string);
  }

  #scanned(count: number): number {
    this.#view();
    this.#count = this.#ends[count - 1] as number;
    return count;
  }

  /** Makes the views valid again, where the memory of the kernel has grown. */
  #view(): void {
    const { kernel, most } = this.#batch;
    if (this.#ends.length > 0) return;
    this.#ends = kernel.words(this.#ignoredEnds, most);
    this.#keys = kernel.words(this.#ignored, IGNORED_ROOM);
  }

  end(): void {
    const { calls } = this.#batch.kernel;
    calls.releaseArena(this.#arena);
    for (const pointer of this.#pointers) calls.release(pointer);
  }
}
