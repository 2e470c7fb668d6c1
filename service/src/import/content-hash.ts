import { createHash } from 'node:crypto';
import { crc32 } from 'node:zlib';

const PART = 64 * 1024;

/**
 * Identifies logs of the same content, whatever pieces they come in: SHA-256 over a CRC-32 (ISO 3309) of every 64 KiB.
 * It is made as fast as bytes come, which hashing them all is not; nobody who wants two logs to be taken for the same is
 * kept from that.
 */
export class ContentHash {
  readonly #hash = createHash('sha256');
  readonly #word = Buffer.alloc(4);
  #sum = 0;
  #filled = 0;

  update(piece: Uint8Array): void {
    for (let at = 0; at < piece.length; ) {
      const part = piece.subarray(at, at + PART - this.#filled);
      this.#sum = crc32(part, this.#sum);
      this.#filled += part.length;
      at += part.length;
      if (this.#filled === PART) this.#endPart();
    }
  }

  /** In hexadecimal. Nothing can be added after that. */
  digest(): string {
    if (this.#filled > 0) this.#endPart();
    return this.#hash.digest('hex');
  }

  #endPart(): void {
    this.#word.writeUInt32BE(this.#sum);
    this.#hash.update(this.#word);
    [this.#sum, this.#filled] = [0, 0];
  }
}
