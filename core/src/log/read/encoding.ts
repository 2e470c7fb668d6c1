/** Converts the bytes of a file to UTF-8 when their byte order mark or pattern shows UTF-16. */
export class Utf8Stream {
  readonly #encoder = new TextEncoder();
  #decoder: TextDecoder | undefined;
  #settled = false;

  /** Whether what came first was UTF-16. */
  get wide(): boolean {
    return this.#decoder !== undefined;
  }

  /** The piece in UTF-8. The first piece should have at least four bytes. */
  push(piece: Uint8Array): Uint8Array {
    if (!this.#settled) {
      const encoding = wideEncoding(piece);
      this.#decoder = encoding === undefined ? undefined : new TextDecoder(encoding);
      this.#settled = true;
    }
    return this.#decoder ? this.#encoder.encode(this.#decoder.decode(piece, { stream: true })) : piece;
  }

  end(): Uint8Array {
    return this.#decoder ? this.#encoder.encode(this.#decoder.decode()) : new Uint8Array(0);
  }
}

/** UTF-16 by its mark, or by every other byte being 0 where text begins. */
function wideEncoding(piece: Uint8Array): 'utf-16le' | 'utf-16be' | undefined {
  const [a, b, c, d] = piece;
  if (a === 0xff && b === 0xfe) return 'utf-16le';
  if (a === 0xfe && b === 0xff) return 'utf-16be';
  if (a !== 0 && b === 0 && c !== 0 && d === 0) return 'utf-16le';
  if (a === 0 && b !== 0 && c === 0 && d !== 0) return 'utf-16be';
  return undefined;
}

/** Whether bytes are no text of any kind: they have a NUL, or many that no text has. */
export function looksBinary(bytes: Uint8Array): boolean {
  let odd = 0;
  for (const byte of bytes) {
    if (byte === 0) return true;
    if (byte < 9 || (byte > 13 && byte < 32 && byte !== 27)) odd++;
  }
  return odd * 20 > bytes.length;
}
