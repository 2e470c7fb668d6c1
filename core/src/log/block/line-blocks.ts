import { CHUNK_ROWS } from '../chunk/builder.js';
import { LONGEST_LINE } from '../read/splitter.js';

/** Whole lines of a log, which can be read by themselves. */
export interface LineBlock {
  readonly bytes: Uint8Array;
  /** The number of its first line in the log, from 1. */
  readonly firstLine: number;
  readonly lines: number;
}

export interface LineBlocksOptions {
  /** The most lines of a block. Default as many as a chunk has requests. */
  readonly mostLines?: number;
  /** The bytes of a block, at least 512 KiB. Default 16 MiB. */
  readonly size?: number;
  /** Gives room for a block. Default zeroed memory. */
  readonly allocate?: (size: number) => Uint8Array;
}

const SIZE = 16 * 1024 * 1024;
/** Input is processed in pieces of at most this many bytes; a block has room for one. */
const PIECE = 256 * 1024;
const NEWLINE = 10;

/**
 * Parts a stream of bytes into blocks of whole lines, copied once. Of a line that is longer than lines may be only so
 * much is kept to report it; the rest is skipped.
 */
export class LineBlocks {
  readonly #mostLines: number;
  readonly #size: number;
  readonly #allocate: (size: number) => Uint8Array;
  readonly #take: (block: LineBlock) => void;
  #bytes: Uint8Array;
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

  push(bytes: Uint8Array): void {
    for (let at = 0; at < bytes.length; at += PIECE) this.#push(bytes.subarray(at, at + PIECE));
  }

  end(): void {
    if (this.#length > this.#lineStart) this.#lines++;
    this.#lineStart = this.#length;
    if (this.#length > 0) this.#cut();
  }

  #push(piece: Uint8Array): void {
    if (this.#length + piece.length > this.#size) this.#cut();
    let copied = 0;
    let start = 0;
    for (let end = piece.indexOf(NEWLINE); end >= 0; end = piece.indexOf(NEWLINE, start)) {
      const begun = start === 0 ? this.#length - this.#lineStart : 0;
      if (begun + end - start > LONGEST_LINE) {
        this.#append(piece, copied, start);
        this.#appendPart(piece, start, end + 1, begun);
        copied = end + 1;
      }
      start = end + 1;
      if (++this.#lines < this.#mostLines) continue;
      this.#append(piece, copied, start);
      copied = start;
      this.#lineStart = this.#length;
      this.#cut();
    }
    this.#append(piece, copied, start);
    if (start > 0) this.#lineStart = this.#length;
    this.#appendPart(piece, start, piece.length, this.#length - this.#lineStart);
  }

  #append(piece: Uint8Array, from: number, to: number): void {
    if (from === to) return;
    this.#bytes.set(from === 0 && to === piece.length ? piece : piece.subarray(from, to), this.#length);
    this.#length += to - from;
  }

  /** Appends a part of a line that has this many bytes; beyond the limit only its end is kept track of. */
  #appendPart(piece: Uint8Array, from: number, to: number, begun: number): void {
    if (from === to) return;
    // One byte more than may be, so that it is seen to be too long.
    const count = Math.min(to - from, Math.max(0, LONGEST_LINE + 1 - begun));
    this.#append(piece, from, from + count);
    if (count < to - from && piece[to - 1] === NEWLINE) this.#bytes[this.#length++] = NEWLINE;
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
