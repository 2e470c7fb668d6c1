/** A growing set of rows, one bit each, the lowest bit of each byte first. */
export function makeBits(rows: number): Uint8Array {
  return new Uint8Array(Math.ceil(rows / 8));
}

export function setBit(bits: Uint8Array, row: number): void {
  bits[row >>> 3] = (bits[row >>> 3] as number) | (1 << (row & 7));
}

export function hasBit(bits: Uint8Array, row: number): boolean {
  return ((bits[row >>> 3] as number) & (1 << (row & 7))) !== 0;
}
