import { EventEmitter, once } from 'node:events';
import type { Knex } from 'knex';
import { keepPiece, keptPiece } from './pieces.js';
import { tooLarge } from './too-large.js';

/** A file is kept in pieces of so many bytes. */
const PIECE = 2 * 1024 * 1024;
/** So many pieces may be on their way to the database. */
const KEPT_AT_ONCE = 2;
/** So much of what came is held in memory for who reads it meanwhile; the rest has to be fetched. */
const LARGEST_AHEAD = 64 * 1024 * 1024;

interface Events {
  /** There is another piece, or there will be none. */
  news: [];
}

/** A file that is being sent to this service: kept piece by piece as it comes, and read meanwhile where there is a hand free. */
export class Upload {
  readonly id: number;
  readonly #knex: Knex;
  readonly #maxBytes: number;
  readonly #news = new EventEmitter<Events>();
  readonly #stopped = new AbortController();
  readonly #ahead = new Map<number, Buffer>();
  /** Those that are on their way to the database. */
  readonly #keeping = new Set<number>();
  #aheadBytes = 0;
  #followed = false;
  #received = 0;
  #came = 0;
  #ended = false;

  constructor(knex: Knex, id: number, maxBytes: number) {
    this.#knex = knex;
    this.id = id;
    this.#maxBytes = maxBytes;
    this.#news.setMaxListeners(0);
  }

  get received(): number {
    return this.#received;
  }

  /** How many pieces it is in. */
  get pieces(): number {
    return this.#came;
  }

  /** Takes all that is sent, and keeps it. Fails with what was told where it is stopped. */
  async take(bytes: AsyncIterable<Buffer>, told: (received: number) => Promise<void>): Promise<void> {
    const keeping = new Set<Promise<void>>();
    const { signal } = this.#stopped;
    const stopped = once(signal, 'abort').then(() => Promise.reject(signal.reason));
    stopped.catch(() => undefined);
    const sent = bytes[Symbol.asyncIterator]();
    let [waiting, length]: [Buffer[], number] = [[], 0];
    const keep = async () => {
      const piece = this.#come(Buffer.concat(waiting, length));
      [waiting, length] = [[], 0];
      const kept = piece.finally(() => keeping.delete(kept));
      kept.catch((error) => this.stop(error));
      keeping.add(kept);
      if (keeping.size >= KEPT_AT_ONCE) await Promise.race([...keeping, stopped]);
      await told(this.#received);
    };
    try {
      for (;;) {
        signal.throwIfAborted();
        const next = await Promise.race([sent.next(), stopped]);
        if (next.done) break;
        waiting.push(next.value);
        length += next.value.length;
        this.#received += next.value.length;
        if (this.#received > this.#maxBytes) throw tooLarge(this.#maxBytes);
        if (length >= PIECE) await keep();
      }
      if (length > 0) await keep();
      await Promise.all(keeping);
      signal.throwIfAborted();
    } finally {
      void sent.return?.();
      // Nothing of it is written any more when it is told how it ended.
      await Promise.allSettled(keeping);
    }
  }

  /** There is no more to come. */
  end(): void {
    this.#ended = true;
    this.#news.emit('news');
  }

  /** Has it fail, and whoever reads it, too. */
  stop(why: unknown): void {
    this.#stopped.abort(why);
    this.#news.emit('news');
  }

  /** Pieces are held in memory from now on, for `pieces`. */
  follow(): void {
    this.#followed = true;
  }

  /** Nobody reads it any more. */
  leave(): void {
    this.#followed = false;
    this.#ahead.clear();
  }

  /** The pieces as they come, from the first on. */
  async *follower(signal: AbortSignal): AsyncGenerator<Buffer> {
    for (let number = 0; ; number++) {
      while (number >= this.#came || (this.#keeping.has(number) && !this.#ahead.has(number))) {
        if (this.#ended) return;
        this.#stopped.signal.throwIfAborted();
        await once(this.#news, 'news', { signal });
      }
      const held = this.#ahead.get(number);
      this.#ahead.delete(number);
      this.#aheadBytes -= held?.length ?? 0;
      yield held ?? (await keptPiece(this.#knex, this.id, number));
    }
  }

  async #come(piece: Buffer): Promise<void> {
    const number = this.#came++;
    this.#keeping.add(number);
    if (this.#followed && this.#aheadBytes + piece.length <= LARGEST_AHEAD) {
      this.#ahead.set(number, piece);
      this.#aheadBytes += piece.length;
      this.#news.emit('news');
    }
    await keepPiece(this.#knex, this.id, number, piece);
    this.#keeping.delete(number);
    this.#news.emit('news');
  }
}
