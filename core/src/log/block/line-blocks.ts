import { CHUNK_ROWS } from '../chunk/builder.js';
import { LONGEST_LINE } from '../read/splitter.js';

/** Whole lines of a log, which can be read by themselves. */
export interface LineBlock {
  readonly bytes: Uint8Array<ArrayBuffer>;
  /** The number of its first line in the log, from 1. */
  readonly firstLine: number;
  readonly lines: number;
}

export interface LineBlocksOptions {
  /** The most lines of a block. Default as many as a chunk has requests. */
  readonly mostLines?: number;
  /** The bytes of a block, which must hold more than one line of the longest that is read. Default 16 MiB. */
  readonly size?: number;
  /** Gives room for a block. Default zeroed memory. */
  readonly allocate?: (size: number) => Uint8Array<ArrayBuffer>;
}

const SIZE = 16 * 1024 * 1024;
const NEWLINE = 10;

/**
 * Parts a stream of bytes into blocks of whole lines, copied once. Of a line that is longer than lines may be only so
 * much is kept that it can be told; the rest is passed over.
 */
export class LineBlocks {
  readonly #mostLines: number;
  readonly #size: number;
  readonly #allocate: (size: number) => Uint8Array<ArrayBuffer>;
  readonly #take: (block: LineBlock) => void;
  #bytes: Uint8Array<ArrayBuffer>;
  #length = 0;
  #lines = 0;
  /** Where the line begins that is not ended yet. */
  #lineStart = 0;
  #firstLine = 1;

  constructor(take: (block: LineBlock) => void, options: LineBlocksOptions = {}) {
    this.#take = take;
    this.#mostLines = options.mostLines ?? CHUNK_ROWS;
    this.#size = options.size ?? SIZE;
    this.#allocate = options.allocate ?? ((size) => new Uint8Array(size));
    this.#bytes = this.#allocate(this.#size);
  }

  push(piece: Uint8Array): void {
    let start = 0;
    for (let end = piece.indexOf(NEWLINE); end >= 0; end = piece.indexOf(NEWLINE, start)) {
      this.#append(piece, start, end + 1);
      this.#lines++;
      this.#lineStart = this.#length;
      start = end + 1;
      if (this.#lines === this.#mostLines) this.#cut();
    }
    if (start < piece.length) this.#append(piece, start, piece.length);
  }

  end(): void {
    if (this.#length > this.#lineStart) this.#lines++;
    this.#lineStart = this.#length;
    if (this.#length > 0) this.#cut();
  }

  /** Appends a part of one line, with its end where that is there. */
  #append(piece: Uint8Array, from: number, to: number): void {
    const kept = this.#length - this.#lineStart;
    const ends = piece[to - 1] === NEWLINE;
    // One byte more than may be, so that it is seen to be too long; and the end of the line.
    const most = Math.max(0, LONGEST_LINE + 1 - kept);
    const count = Math.min(to - from, most);
    if (this.#length + count + 1 > this.#size) this.#cut();
    this.#bytes.set(piece.subarray(from, from + count), this.#length);
    this.#length += count;
    if (ends && count < to - from) this.#bytes[this.#length++] = NEWLINE;
  }

  /** Hands on the whole lines, and keeps the begun one. */
  #cut(): void {
    const { buffer } = this.#bytes;
    const begun = this.#bytes.slice(this.#lineStart, this.#length);
    if (this.#lines > 0) {
      const bytes = new Uint8Array(buffer, this.#bytes.byteOffset, this.#lineStart);
      this.#take({ bytes, firstLine: this.#firstLine, lines: this.#lines });
      this.#bytes = this.#allocate(this.#size);
    }
    this.#firstLine += this.#lines;
    this.#bytes.set(begun);
    this.#length = begun.length;
    this.#lineStart = 0;
    this.#lines = 0;
  }
}
