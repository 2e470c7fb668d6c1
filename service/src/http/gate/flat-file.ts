import { randomUUID } from 'node:crypto';
import { mkdir, open, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { Deserializer, Serializer } from 'node:v8';

/*
 * Plain data in a file that another process reads without standing still for it: large arrays lie in the file as they lie
 * in memory, one behind the other, and are taken as they are; all else comes in front of them as V8 writes it, with its
 * length, in 8 bytes, at the very beginning.
 */

const HEAD = 8;
/** Arrays start where any of their elements may. */
const ALIGNED = 8;
const LARGE = 64 * 1024;
const ARRAYS = [Uint8Array, Int32Array, Uint32Array, Uint16Array, Float64Array] as const;
type FlatArray = InstanceType<(typeof ARRAYS)[number]>;

const aligned = (length: number): number => Math.ceil(length / ALIGNED) * ALIGNED;

/** A method of serializers that is missing in their types. */
interface WritesArrays {
  _setTreatArrayBufferViewsAsHostObjects(on: boolean): void;
}

class Writer extends Serializer {
  readonly large: FlatArray[] = [];
  #end = 0;

  constructor() {
    super();
    (this as unknown as WritesArrays)._setTreatArrayBufferViewsAsHostObjects(true);
  }

  _writeHostObject(view: FlatArray): void {
    const kind = ARRAYS.findIndex((each) => view instanceof each);
    if (kind < 0) throw new Error('this kind of array is not written');
    this.writeUint32(kind);
    const isLarge = view.byteLength >= LARGE;
    this.writeUint32(isLarge ? 1 : 0);
    this.writeUint32(view.length);
    if (isLarge) {
      this.writeDouble(this.#end);
      this.large.push(view);
      this.#end += aligned(view.byteLength);
    } else this.writeRawBytes(bytesOf(view));
  }
}

class Reader extends Deserializer {
  readonly #file: Buffer;
  readonly #from: number;

  constructor(file: Buffer, head: Buffer, from: number) {
    super(head);
    this.#file = file;
    this.#from = from;
  }

  _readHostObject(): FlatArray {
    const made = ARRAYS[this.readUint32()];
    if (made === undefined) throw new Error('this kind of array is not known');
    const isLarge = this.readUint32() === 1;
    const length = this.readUint32();
    const { buffer, byteOffset } = this.#file;
    if (isLarge) return new made(buffer as ArrayBuffer, byteOffset + this.#from + this.readDouble(), length);
    const bytes = this.readRawBytes(length * made.BYTES_PER_ELEMENT);
    return new made(Uint8Array.from(bytes).buffer);
  }
}

const bytesOf = ({ buffer, byteOffset, byteLength }: FlatArray): Uint8Array =>
  new Uint8Array(buffer, byteOffset, byteLength);

/** Writes the data into a new file of the folder, for its owner alone, and answers its path. */
export async function writeFlat(folder: string, data: unknown): Promise<string> {
  const writer = new Writer();
  writer.writeHeader();
  writer.writeValue(data);
  const head = writer.releaseBuffer();
  const length = Buffer.alloc(HEAD);
  length.writeDoubleLE(head.length);
  await mkdir(folder, { recursive: true, mode: 0o700 });
  const path = join(folder, `${randomUUID()}.flat`);
  const file = await open(path, 'wx', 0o600);
  const parts = [length, head, padding(HEAD + head.length)];
  for (const view of writer.large) parts.push(bytesOf(view), padding(view.byteLength));
  try {
    const { bytesWritten } = await file.writev(parts);
    if (bytesWritten < parts.reduce((sum, part) => sum + part.length, 0))
      throw new Error(`${path} was not written whole`);
  } finally {
    await file.close();
  }
  return path;
}

const padding = (length: number): Uint8Array => new Uint8Array(aligned(length) - length);

/** Reads the data of such a file. */
export async function readFlat(path: string): Promise<unknown> {
  const file = await readFile(path);
  const length = file.readDoubleLE();
  const reader = new Reader(file, file.subarray(HEAD, HEAD + length), aligned(HEAD + length));
  reader.readHeader();
  return reader.readValue();
}
