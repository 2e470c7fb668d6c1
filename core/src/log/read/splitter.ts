/** One line of a file: its text without the line end, or undefined where it was longer than allowed. */
export type LineText = string | undefined;

/** No line that is longer is read, in bytes. */
export const LONGEST_LINE = 64 * 1024;
export const LONGEST_LINE_TEXT = '64 KiB';

const NEWLINE = 10;

/**
 * Parts a stream of bytes into lines of UTF-8. Takes pieces of any size; a line longer than `longest` bytes is passed
 * over in bounded memory and answered as undefined. A line that is not UTF-8 is taken for windows-1252, which every
 * sequence of bytes is.
 */
export class LineSplitter {
  readonly #decoder = new TextDecoder('utf-8', { ignoreBOM: true, fatal: true });
  readonly #single = new TextDecoder('windows-1252');
  readonly #longest: number;
  #rest: Uint8Array[] = [];
  #restLength = 0;
  #first = true;

  constructor(longest: number) {
    this.#longest = longest;
  }

  /** Calls back for each line that ends within the piece. */
  push(piece: Uint8Array, take: (line: LineText) => void): void {
    let start = 0;
    for (let end = piece.indexOf(NEWLINE); end >= 0; end = piece.indexOf(NEWLINE, start)) {
      this.#keep(piece.subarray(start, end));
      take(this.#take());
      start = end + 1;
    }
    if (start < piece.length) this.#keep(piece.slice(start));
  }

  /** Calls back for a last line that no newline ends. */
  end(take: (line: LineText) => void): void {
    if (this.#restLength > 0) take(this.#take());
  }

  #keep(bytes: Uint8Array): void {
    this.#restLength += bytes.length;
    if (this.#restLength > this.#longest) this.#rest = [];
    else this.#rest.push(bytes);
  }

  #take(): LineText {
    const tooLong = this.#restLength > this.#longest;
    const text = tooLong ? undefined : this.#decode();
    this.#rest = [];
    this.#restLength = 0;
    this.#first = false;
    return text;
  }

  #decode(): string {
    const bytes = this.#rest.length === 1 ? (this.#rest[0] as Uint8Array) : joined(this.#rest, this.#restLength);
    const text = this.#textOf(bytes);
    const bare = this.#first ? text.replace(/^\uFEFF/, '') : text;
    return bare.endsWith('\r') ? bare.slice(0, -1) : bare;
  }

  #textOf(bytes: Uint8Array): string {
    try {
      return this.#decoder.decode(bytes);
    } catch {
      return this.#single.decode(bytes);
    }
  }
}

function joined(pieces: readonly Uint8Array[], length: number): Uint8Array {
  const whole = new Uint8Array(length);
  let at = 0;
  for (const piece of pieces) {
    whole.set(piece, at);
    at += piece.length;
  }
  return whole;
}
