const FIRST = 2 ** 20;

/** A memory that grows, as WebAssembly has it. Pointers begin at 16, since 0 means none. */
export class PlainMemory {
  buffer = new ArrayBuffer(FIRST);
  #used = 16;

  allocate(bytes: number): number {
    const pointer = this.#used;
    this.#used += (bytes + 15) & ~15;
    if (this.#used > this.buffer.byteLength) {
      const larger = new ArrayBuffer(2 ** Math.ceil(Math.log2(this.#used)));
      new Uint8Array(larger).set(new Uint8Array(this.buffer));
      this.buffer = larger;
    }
    return pointer;
  }

  /** The values at a pointer, to be read and written. Valid until something is allocated. */
  words(pointer: number, count: number): Uint32Array {
    return new Uint32Array(this.buffer, pointer, count);
  }

  ints(pointer: number, count: number): Int32Array {
    return new Int32Array(this.buffer, pointer, count);
  }

  halves(pointer: number, count: number): Uint16Array {
    return new Uint16Array(this.buffer, pointer, count);
  }

  bytes(pointer: number, count: number): Uint8Array {
    return new Uint8Array(this.buffer, pointer, count);
  }

  doubles(pointer: number, count: number): Float64Array {
    return new Float64Array(this.buffer, pointer, count);
  }
}
