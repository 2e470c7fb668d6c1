const FIRST = 2 ** 20;

/** A memory that grows, as WebAssembly has it. Places begin at 16, since none is 0. */
export class PlainMemory {
  buffer = new ArrayBuffer(FIRST);
  #used = 16;

  allocate(bytes: number): number {
    const place = this.#used;
    this.#used += (bytes + 15) & ~15;
    if (this.#used > this.buffer.byteLength) {
      const larger = new ArrayBuffer(2 ** Math.ceil(Math.log2(this.#used)));
      new Uint8Array(larger).set(new Uint8Array(this.buffer));
      this.buffer = larger;
    }
    return place;
  }

  /** Values at a place, to be read and written; good until something is allocated. */
  words(place: number, count: number): Uint32Array {
    return new Uint32Array(this.buffer, place, count);
  }

  ints(place: number, count: number): Int32Array {
    return new Int32Array(this.buffer, place, count);
  }

  halves(place: number, count: number): Uint16Array {
    return new Uint16Array(this.buffer, place, count);
  }

  bytes(place: number, count: number): Uint8Array {
    return new Uint8Array(this.buffer, place, count);
  }

  doubles(place: number, count: number): Float64Array {
    return new Float64Array(this.buffer, place, count);
  }
}
