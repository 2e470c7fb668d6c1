import { hashSecrets } from '../../column/index.js';
import type { Kernel } from '../../kernel/index.js';
import { FIELDS, type LineFields, NUMBER_COUNT } from './line-fields.js';

/** Some lines at a time, so that what is found of them stays near the processor. */
const MOST_LINES = 2048;
/** Their bytes, and room behind them, since scanners look at several at a time. */
const MOST_BYTES = 512 * 1024;
const ROOM_BEHIND = 64;
const NEWLINE = 10;

/** In the place of an id: the line has no run of the field. */
export const NO_RUN = -1;

/**
 * Lines of a piece of a block, as a scanner found them, in the memory of a kernel: column by column, with a place for each
 * line. Runs of bytes are offsets in the piece; `intern` numbers them.
 */
export class LineBatch {
  readonly kernel: Kernel;
  /** Pointers: to the bytes, and to the record of lines that scanners of the kernel write. */
  readonly bytes: number;
  readonly record: number;
  readonly most = MOST_LINES;
  readonly #ends: number;
  readonly #seen: number;
  readonly #none: number;
  readonly #numbers: number;
  readonly #starts: number;
  readonly #lengths: number;
  readonly #ids: number;
  /** The arena of each field. */
  readonly #arenas: number[] = [];
  #memory: ArrayBufferLike | undefined;
  /** The fields of the lines that were numbered last. */
  #present = 0;
  /** Of each line the offset of its line feed, as −1 − offset where it is left. Valid like all of these until `view`. */
  ends: Int32Array = new Int32Array(0);
  seen: Uint32Array = new Uint32Array(0);
  none: Uint32Array = new Uint32Array(0);
  /** By field × `most` + line. */
  numbers: Float64Array = new Float64Array(0);
  starts: Uint32Array = new Uint32Array(0);
  lengths: Uint32Array = new Uint32Array(0);
  /** The number of each run among those of its field, or `NO_RUN`. */
  ids: Int32Array = new Int32Array(0);

  constructor(kernel: Kernel) {
    this.kernel = kernel;
    const { calls } = kernel;
    const words = (count: number) => calls.allocate(count * 4);
    this.bytes = calls.allocate(MOST_BYTES + ROOM_BEHIND);
    [this.#ends, this.#seen, this.#none] = [words(MOST_LINES), words(MOST_LINES), words(MOST_LINES)];
    this.#numbers = words(MOST_LINES * NUMBER_COUNT * 2);
    [this.#starts, this.#lengths, this.#ids] = [0, 1, 2].map(() => words(MOST_LINES * FIELDS.length)) as [
      number,
      number,
      number,
    ];
    this.record = calls.allocate(7 * 4);
    const pointers = [this.#ends, this.#seen, this.#none, this.#numbers, this.#starts, this.#lengths];
    kernel.write(this.record, Uint32Array.of(MOST_LINES, ...pointers));
  }

  /**
   * Takes whole lines from an offset of the bytes on, as many as there is room for; answers the offset behind them, which is
   * the same where the next line is longer than that.
   */
  take(bytes: Uint8Array, from: number): number {
    const to = Math.min(bytes.length, from + MOST_BYTES);
    const end = to === bytes.length ? to : bytes.lastIndexOf(NEWLINE, to - 1) + 1;
    if (end <= from) return from;
    this.kernel.write(this.bytes, bytes.subarray(from, end));
    return end;
  }

  /** Makes the views valid again, where the memory of the kernel has grown. */
  view(): void {
    const { kernel } = this;
    const { buffer } = kernel.memory();
    if (buffer === this.#memory) return;
    this.#memory = buffer;
    this.ends = kernel.ints(this.#ends, MOST_LINES);
    this.seen = kernel.words(this.#seen, MOST_LINES);
    this.none = kernel.words(this.#none, MOST_LINES);
    this.numbers = kernel.doubles(this.#numbers, MOST_LINES * NUMBER_COUNT);
    this.starts = kernel.words(this.#starts, MOST_LINES * FIELDS.length);
    this.lengths = kernel.words(this.#lengths, MOST_LINES * FIELDS.length);
    this.ids = kernel.ints(this.#ids, MOST_LINES * FIELDS.length);
  }

  /** Writes a line that was scanned elsewhere: its fields have offsets from `base` on. */
  set(line: number, { seen, none, numbers, starts, ends }: LineFields, base: number): void {
    this.seen[line] = seen;
    this.none[line] = none;
    for (let field = 0; field < FIELDS.length; field++) {
      if ((seen & (1 << field)) === 0) continue;
      const at = field * MOST_LINES + line;
      if (field < NUMBER_COUNT) this.numbers[at] = numbers[field] as number;
      else {
        this.starts[at] = (starts[field] as number) - base;
        this.lengths[at] = (ends[field] as number) - (starts[field] as number);
      }
    }
  }

  /** Numbers the runs of so many lines, field by field, of those that any line has. Numbers last until `forget`. */
  intern(count: number): void {
    const { calls } = this.kernel;
    const { start, spread } = hashSecrets();
    this.view();
    const { seen, none } = this;
    let present = 0;
    for (let line = 0; line < count; line++) present |= (seen[line] as number) | (none[line] as number);
    this.#present = present;
    for (let field = NUMBER_COUNT; field < FIELDS.length; field++) {
      if (!this.has(field)) continue;
      const arena = this.#arenas[field] ?? calls.newArena();
      this.#arenas[field] = arena;
      const [starts, lengths, ids] = [this.#starts, this.#lengths, this.#ids].map(
        (pointer) => pointer + field * MOST_LINES * 4,
      ) as [number, number, number];
      calls.internRuns(arena, this.bytes, this.#seen, field, starts, lengths, count, ids, start, spread);
    }
    this.view();
  }

  /** Whether any of the lines has the field, or says that there is none. */
  has(field: number): boolean {
    return (this.#present & (1 << field)) !== 0;
  }

  /** Forgets all runs, and gives their memory back. */
  forget(): void {
    for (const arena of this.#arenas.splice(0)) if (arena !== undefined) this.kernel.calls.releaseArena(arena);
  }
}
