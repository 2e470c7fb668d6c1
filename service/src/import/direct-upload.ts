import { refusalOf } from '../job/refusal-of.js';
import { unreadHere } from './refusals.js';
import { Stop } from './stop.js';
import { tooLarge } from './too-large.js';
import type { Sent, Upload } from './upload.js';

/** A log that is read as it comes, no faster than that, and kept nowhere else. What breaks off is to be sent again. */
export class DirectUpload implements Upload {
  readonly id: number;
  readonly keeps = false;
  readonly #sent: Sent;
  readonly #stop = new Stop();

  constructor(id: number, sent: Sent) {
    this.id = id;
    this.#sent = sent;
  }

  async *follower(signal: AbortSignal): AsyncGenerator<Buffer> {
    const { bytes, maxBytes } = this.#sent;
    signal.addEventListener('abort', () => this.stop(unreadHere()));
    const sent = bytes[Symbol.asyncIterator]();
    let received = 0;
    try {
      for (;;) {
        const next = await this.#stop.wait(sent.next());
        if (next.done) return;
        received += next.value.length;
        if (received > maxBytes) throw tooLarge(maxBytes);
        yield next.value;
      }
    } catch (error) {
      throw refusalOf(error);
    } finally {
      void sent.return?.();
    }
  }

  stop(why: unknown): void {
    this.#stop.stop(why);
  }

  throwIfStopped(): void {
    this.#stop.throwIfStopped();
  }
}
