import { EventEmitter, once } from 'node:events';
import { type KeptPiece, type PieceStore, packPiece, unpackPiece } from './pieces.js';
import { Stop } from './stop.js';
import { tooLarge } from './too-large.js';
import type { Sent, Upload } from './upload.js';

/** It is kept in pieces of this many bytes. */
const PIECE = 256 * 1024;
/** This many pieces may be on their way to the database. */
const KEPT_AT_ONCE = 4;
/** So much of what came is held in memory for who reads it meanwhile, as it came or packed; the rest has to be fetched. */
const ROOM = { unpacked: 8 * 1024 * 1024, packed: 32 * 1024 * 1024 };

interface Events {
  /** There is another piece, or there will be none. */
  news: [];
}

/** A log that is kept piece by piece as it comes, and read meanwhile where a hand is free. */
export class KeptUpload implements Upload {
  readonly id: number;
  readonly keeps = true;
  readonly #store: PieceStore;
  readonly #sent: Sent;
  readonly #room: typeof ROOM;
  readonly #news = new EventEmitter<Events>();
  readonly #stop = new Stop();
  readonly #ahead = new Map<number, KeptPiece>();
  /** Those that are on their way to the database. */
  readonly #keeping = new Map<number, Promise<void>>();
  #aheadBytes = 0;
  #followed = false;
  #received = 0;
  #came = 0;
  #ended = false;

  constructor(id: number, sent: Sent, store: PieceStore, room = ROOM) {
    this.id = id;
    this.#sent = sent;
    this.#store = store;
    this.#room = room;
  }

  get received(): number {
    return this.#received;
  }

  /** How many pieces it is in. */
  get pieces(): number {
    return this.#came;
  }

  /** Takes all that is sent, and keeps it; fails with why it was stopped, where it was. */
  async keep(shown: (received: number) => Promise<void>): Promise<void> {
    const { bytes, maxBytes } = this.#sent;
    const sent = bytes[Symbol.asyncIterator]();
    let [waiting, length]: [Buffer[], number] = [[], 0];
    const takePiece = async () => {
      this.#begin(Buffer.concat(waiting, length));
      [waiting, length] = [[], 0];
      if (this.#keeping.size >= KEPT_AT_ONCE) await this.#stop.wait(Promise.race(this.#keeping.values()));
      await shown(this.#received);
    };
    try {
      for (;;) {
        const next = await this.#stop.wait(sent.next());
        if (next.done) break;
        waiting.push(next.value);
        length += next.value.length;
        this.#received += next.value.length;
        if (this.#received > maxBytes) throw tooLarge(maxBytes);
        if (length >= PIECE) await takePiece();
      }
      if (length > 0) await takePiece();
      await this.#stop.wait(Promise.all(this.#keeping.values()));
    } finally {
      void sent.return?.();
      // No write is left under way when the outcome is reported.
      await Promise.allSettled(this.#keeping.values());
    }
  }

  /** There is no more to come. */
  end(): void {
    this.#ended = true;
    this.#news.emit('news');
  }

  stop(why: unknown): void {
    this.#stop.stop(why);
    this.#news.emit('news');
  }

  throwIfStopped(): void {
    this.#stop.throwIfStopped();
  }

  /** Pieces are held in memory from now on, for the follower. */
  follow(): void {
    this.#followed = true;
  }

  /** Nobody reads it any more. */
  leave(): void {
    this.#followed = false;
    this.#ahead.clear();
    this.#aheadBytes = 0;
  }

  async *follower(signal: AbortSignal): AsyncGenerator<Buffer> {
    for (let number = 0; ; number++) {
      while (number >= this.#came || (this.#keeping.has(number) && !this.#ahead.has(number))) {
        if (this.#ended) return;
        this.throwIfStopped();
        await once(this.#news, 'news', { signal });
      }
      const held = this.#ahead.get(number);
      this.#ahead.delete(number);
      this.#aheadBytes -= held?.data.length ?? 0;
      yield await (held ? unpackPiece(held) : this.#store.fetch(number));
    }
  }

  #begin(piece: Buffer): void {
    const number = this.#came++;
    const kept = this.#keep(number, piece).finally(() => {
      this.#keeping.delete(number);
      this.#news.emit('news');
    });
    kept.catch((error) => this.stop(error));
    this.#keeping.set(number, kept);
  }

  async #keep(number: number, piece: Buffer): Promise<void> {
    const unpacked = this.#hold(number, { packed: false, data: piece }, this.#room.unpacked);
    const packed = await packPiece(piece);
    if (!unpacked) this.#hold(number, packed, this.#room.packed);
    await this.#store.keep(number, packed);
  }

  /** Holds a piece in memory for who reads it, where there is room for it. */
  #hold(number: number, piece: KeptPiece, most: number): boolean {
    const fits = this.#followed && this.#aheadBytes + piece.data.length <= most;
    if (!fits) return false;
    this.#ahead.set(number, piece);
    this.#aheadBytes += piece.data.length;
    this.#news.emit('news');
    return true;
  }
}
