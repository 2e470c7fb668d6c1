import type { KernelCalls, KernelInstance, ScanCalls } from './calls.js';
import { compiledInstance } from './compiled-instance.js';
import { plainInstance } from './plain/plain-instance.js';

type Words = Uint32Array | Int32Array | Uint16Array | Uint8Array | Float64Array;

/** The bytes of scratch that a kernel begins with. It doubles when a piece of work needs more. */
const ROOM = 2 ** 14;
/** Calls may read this many bytes behind an array, since they read several values at once. */
const VECTOR = 16;

/**
 * The inner loops with a memory of their own, for one thread. What is `put` or `take`n there is scratch: it lasts until
 * `reset`, which each piece of work begins with. Nobody frees the memory: it goes with the kernel.
 */
export class Kernel {
  readonly calls: KernelCalls;
  /** Undefined where the host compiles none. */
  readonly scan: ScanCalls | undefined;
  readonly #memory: KernelInstance['memory'];
  #scratch = 0;
  #room = 0;
  #used = 0;
  readonly #spilled: number[] = [];

  constructor({ calls, scan, memory }: KernelInstance = compiledInstance() ?? plainInstance()) {
    this.calls = calls;
    this.scan = scan;
    this.#memory = memory;
  }

  /** Gives all scratch back. */
  reset(): void {
    this.#used = 0;
    if (this.#spilled.length === 0) return;
    for (const pointer of this.#spilled.splice(0)) this.calls.release(pointer);
    // What did not fit will mostly come again.
    this.calls.release(this.#scratch);
    this.#room *= 2;
    this.#scratch = this.calls.allocate(this.#room);
  }

  /** A pointer to so many bytes of scratch, of any content. */
  take(bytes: number): number {
    const size = (bytes + 15) & ~15;
    if (this.#room === 0) {
      this.#room = ROOM;
      this.#scratch = this.calls.allocate(ROOM);
    }
    if (this.#used + size > this.#room) {
      const pointer = this.calls.allocate(size);
      this.#spilled.push(pointer);
      return pointer;
    }
    const pointer = this.#scratch + this.#used;
    this.#used += size;
    return pointer;
  }

  /** A copy of the values in scratch. They must not lie in the kernel's own memory, which may grow meanwhile. */
  put(values: Words): number {
    const pointer = this.take(values.byteLength);
    this.write(pointer, values);
    return pointer;
  }

  /** A copy of the values that stays until it is released, with room for one more vector behind, which calls may read. */
  keep(values: Words): number {
    const pointer = this.calls.allocate((values.byteLength + VECTOR + 15) & ~15);
    this.write(pointer, values);
    return pointer;
  }

  /** Writes values to a pointer that has room for them. */
  write(pointer: number, values: Words): void {
    new Uint8Array(this.#memory.buffer).set(
      new Uint8Array(values.buffer, values.byteOffset, values.byteLength),
      pointer,
    );
  }

  /** The whole memory as whole numbers: a pointer / 4 is an index. Valid until the memory grows. */
  memory(): Int32Array {
    return new Int32Array(this.#memory.buffer);
  }

  /** The whole numbers at a pointer; valid until the memory grows, which any call may make it do. */
  ints(pointer: number, count: number): Int32Array {
    return new Int32Array(this.#memory.buffer, pointer, count);
  }

  /** The same without a sign. */
  words(pointer: number, count: number): Uint32Array {
    return new Uint32Array(this.#memory.buffer, pointer, count);
  }

  /** The bytes at a pointer; valid as long. */
  bytes(pointer: number, count: number): Uint8Array {
    return new Uint8Array(this.#memory.buffer, pointer, count);
  }

  /** The numbers of 64 bits at a pointer; valid as long. */
  doubles(pointer: number, count: number): Float64Array {
    return new Float64Array(this.#memory.buffer, pointer, count);
  }
}
