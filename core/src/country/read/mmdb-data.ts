/** A file that is not what its format says it is. */
export class DamagedFile extends Error {}

export type MmdbValue = string | number | boolean | bigint | Uint8Array | MmdbValue[] | { [key: string]: MmdbValue };

const DEEPEST = 32;
const MOST_FIELDS = 10_000;
const POINTER = 1;
const EXTENDED = 0;

/** Reads values of the data section of an MMDB file (MaxMind DB file format 2.0), within its bounds. */
export class MmdbData {
  readonly #bytes: Uint8Array;
  readonly #view: DataView;

  /** @param section the bytes that pointers count from */
  constructor(section: Uint8Array) {
    this.#bytes = section;
    this.#view = new DataView(section.buffer, section.byteOffset, section.byteLength);
  }

  /** The value at the offset. */
  read(offset: number): MmdbValue {
    return this.#read(offset, 0).value;
  }

  #read(offset: number, depth: number): { value: MmdbValue; end: number } {
    if (depth > DEEPEST) throw new DamagedFile('values are nested too deeply');
    const control = this.#byte(offset);
    let type = control >>> 5;
    let at = offset + 1;
    if (type === POINTER) return this.#pointer(control, at, depth);
    if (type === EXTENDED) type = 7 + this.#byte(at++);
    const { size, next } = this.#size(control & 31, at);
    return this.#value(type, size, next, depth);
  }

  #value(type: number, size: number, at: number, depth: number): { value: MmdbValue; end: number } {
    switch (type) {
      case 2:
        return { value: new TextDecoder().decode(this.#slice(at, size)), end: at + size };
      case 3:
        return { value: this.#within(at, 8).getFloat64(at), end: at + 8 };
      case 4:
        return { value: this.#slice(at, size), end: at + size };
      case 5:
      case 6:
      case 8:
        return { value: this.#unsigned(at, size), end: at + size };
      case 7:
        return this.#map(size, at, depth);
      case 9:
      case 10:
        return { value: this.#slice(at, size).reduce((sum, byte) => sum * 256n + BigInt(byte), 0n), end: at + size };
      case 11:
        return this.#array(size, at, depth);
      case 14:
        return { value: size !== 0, end: at };
      case 15:
        return { value: this.#within(at, 4).getFloat32(at), end: at + 4 };
      default:
        throw new DamagedFile(`there is no value of type ${type}`);
    }
  }

  #pointer(control: number, at: number, depth: number): { value: MmdbValue; end: number } {
    const width = (control >>> 3) & 3;
    const high = width === 3 ? 0 : (control & 7) * 256 ** (width + 1);
    const base = [0, 2048, 526_336, 0][width] as number;
    const target = high + base + this.#unsigned(at, width + 1);
    return { value: this.#read(target, depth + 1).value, end: at + width + 1 };
  }

  #map(size: number, start: number, depth: number): { value: MmdbValue; end: number } {
    const entries: [string, MmdbValue][] = [];
    let at = start;
    for (let left = this.#few(size); left > 0; left--) {
      const key = this.#read(at, depth + 1);
      const value = this.#read(key.end, depth + 1);
      entries.push([String(key.value), value.value]);
      at = value.end;
    }
    return { value: Object.fromEntries(entries), end: at };
  }

  #array(size: number, start: number, depth: number): { value: MmdbValue; end: number } {
    const items: MmdbValue[] = [];
    let at = start;
    for (let left = this.#few(size); left > 0; left--) {
      const { value, end } = this.#read(at, depth + 1);
      items.push(value);
      at = end;
    }
    return { value: items, end: at };
  }

  #size(code: number, at: number): { size: number; next: number } {
    if (code < 29) return { size: code, next: at };
    const width = code - 28;
    const base = [29, 285, 65_821][width - 1] as number;
    return { size: base + this.#unsigned(at, width), next: at + width };
  }

  #few(size: number): number {
    if (size > MOST_FIELDS) throw new DamagedFile('a value has too many fields');
    return size;
  }

  #byte(at: number): number {
    return this.#within(at, 1).getUint8(at);
  }

  #unsigned(at: number, size: number): number {
    return this.#slice(at, Math.min(size, 6)).reduce((sum, byte) => sum * 256 + byte, 0);
  }

  #slice(at: number, size: number): Uint8Array {
    this.#within(at, size);
    return this.#bytes.subarray(at, at + size);
  }

  #within(at: number, size: number): DataView {
    if (at < 0 || at + size > this.#bytes.length) throw new DamagedFile('a value lies outside the file');
    return this.#view;
  }
}
