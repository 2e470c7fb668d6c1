import { refusal } from '../../fault/refusal.js';

/*
 * The frames of zstd (RFC 8878), found by the sizes that their headers give: so that a cut is seen, and memory is bounded
 * before the unpacking allocates what a header asks for.
 */

/** The usual limit of unpackers; the format recommends at least 8 MiB. */
const MOST_WINDOW = 128 * 1024 * 1024;
/** Few frames need more than this: allocating it takes time, however little they hold. */
const USUAL_WINDOW = 8 * 1024 * 1024;
const MOST_LARGE = 1000;
const FRAME = 0xfd2fb528;
const SKIPPABLE = 0x184d2a50;

type State =
  | { readonly type: 'magic' | 'header' | 'block' | 'skip-size' | 'checksum' }
  | { readonly type: 'bytes'; readonly left: number; readonly then: State; readonly skipped?: boolean };

/** A part of a frame, of one block at most, and whether the frame ends with it. */
export interface FramePart {
  readonly bytes: Buffer;
  readonly ends: boolean;
}

/**
 * Parts packed bytes into those of frames; frames that are to be skipped are left out. `push` throws what is no zstd, or
 * asks for too much memory.
 */
export class ZstdFrames {
  #state: State = { type: 'magic' };
  #held: Buffer = Buffer.alloc(0);
  #hasChecksum = false;
  #large = 0;

  /** Whether the bytes so far end where a frame does. */
  get isWhole(): boolean {
    return this.#state.type === 'magic' && this.#held.length === 0;
  }

  push(piece: Buffer): FramePart[] {
    const parts: FramePart[] = [];
    const all = this.#held.length === 0 ? piece : Buffer.concat([this.#held, piece]);
    let at = 0;
    let from = 0;
    const flush = (ends: boolean) => {
      if (at > from || ends) parts.push({ bytes: all.subarray(from, at), ends });
      from = at;
    };
    while (at < all.length) {
      const before = this.#state;
      const taken = this.#step(all.subarray(at));
      if (taken === 0) break;
      at += taken;
      const skips = this.#isSkipped(before) || this.#isSkipped(this.#state);
      // What is skipped is dropped: its head, its size and its bytes.
      if (skips) from = at;
      else if (this.#state.type === 'magic') flush(true);
      // A block of four bytes may be 128 KiB when it is unpacked: each is a part, so that little comes out at a time.
      else if (this.#state.type === 'block') flush(false);
    }
    flush(false);
    this.#held = Buffer.from(all.subarray(at));
    return parts;
  }

  #isSkipped(state: State): boolean {
    return state.type === 'skip-size' || (state.type === 'bytes' && state.skipped === true);
  }

  /** Takes one part from the front; answers its length, or 0 where more bytes are needed. */
  #step(bytes: Buffer): number {
    const state = this.#state;
    switch (state.type) {
      case 'bytes': {
        const taken = Math.min(state.left, bytes.length);
        this.#state = taken === state.left ? state.then : { ...state, left: state.left - taken };
        return taken;
      }
      case 'magic': {
        if (bytes.length < 4) return 0;
        const magic = bytes.readUInt32LE(0);
        if (magic !== FRAME && (magic & 0xfffffff0) >>> 0 !== SKIPPABLE)
          throw damaged('no frame begins where one should');
        this.#state = { type: magic === FRAME ? 'header' : 'skip-size' };
        return 4;
      }
      case 'skip-size':
        if (bytes.length < 4) return 0;
        this.#skip(bytes.readUInt32LE(0));
        return 4;
      case 'header':
        return this.#header(bytes);
      case 'block': {
        if (bytes.length < 3) return 0;
        const head = bytes.readUIntLE(0, 3);
        const type = (head >> 1) & 3;
        if (type === 3) throw damaged('a block is of no known type');
        const then: State = (head & 1) === 0 ? { type: 'block' } : { type: this.#hasChecksum ? 'checksum' : 'magic' };
        const left = type === 1 ? 1 : head >> 3;
        this.#state = left === 0 ? then : { type: 'bytes', left, then };
        return 3;
      }
      case 'checksum':
        if (bytes.length < 4) return 0;
        this.#state = { type: 'magic' };
        return 4;
    }
  }

  #skip(left: number): void {
    const then: State = { type: 'magic' };
    this.#state = left === 0 ? then : { type: 'bytes', left, then, skipped: true };
  }

  #header(bytes: Buffer): number {
    if (bytes.length < 1) return 0;
    const descriptor = bytes[0] as number;
    const single = (descriptor & 0x20) !== 0;
    const windowSize = single ? 0 : 1;
    const dictionarySize = [0, 1, 2, 4][descriptor & 3] as number;
    const contentSize = [single ? 1 : 0, 2, 4, 8][descriptor >> 6] as number;
    const length = 1 + windowSize + dictionarySize + contentSize;
    if (bytes.length < length) return 0;
    if (dictionarySize > 0 && bytes.readUIntLE(1 + windowSize, dictionarySize) !== 0)
      throw damaged('it needs a dictionary, which is not here');
    const window = single ? contentOf(bytes, 1 + dictionarySize, contentSize) : windowOf(bytes[1] as number);
    if (window > USUAL_WINDOW && ++this.#large > MOST_LARGE) throw damaged('it asks for much memory again and again');
    if (window > MOST_WINDOW) throw damaged(`it asks for more memory than ${MOST_WINDOW / 1024 / 1024} MiB`);
    this.#hasChecksum = (descriptor & 4) !== 0;
    this.#state = { type: 'block' };
    return length;
  }
}

function windowOf(byte: number): number {
  const base = 2 ** (10 + (byte >> 3));
  return base + (base / 8) * (byte & 7);
}

function contentOf(bytes: Buffer, at: number, size: number): number {
  if (size === 8) return Number(bytes.readBigUInt64LE(at));
  return bytes.readUIntLE(at, size) + (size === 2 ? 256 : 0);
}

const damaged = (why: string) => refusal('damaged-log', { detail: `The packed log is damaged (${why})` });
