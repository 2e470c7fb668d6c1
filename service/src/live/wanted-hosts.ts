import { BoundedMap } from '@jade-fence/core/memo';

/** More hosts than this do not wait to be looked up; the next request to one of them wants it again. */
const MOST_WAITING = 10_000;
/** A host is not looked up again before this, whatever came of it. */
const AGAIN_MS = 60_000;
const MOST_REMEMBERED = 100_000;
const MOST_AT_ONCE = 100;
/** Whoever takes hosts is answered after this, with none. */
const LONGEST_WAIT_MS = 20_000;

/** Hosts that live requests went to, and of which no address is known that still holds. */
export class WantedHosts {
  readonly #waiting = new Set<string>();
  readonly #asked = new BoundedMap<string, number>(MOST_REMEMBERED);
  /** Who waits for hosts; the first to come is the first to be woken. */
  readonly #takers = new Set<() => void>();

  /** Has a host looked up behind; `now` is by a monotonic clock, in milliseconds. */
  want(host: string, now: number): void {
    const asked = this.#asked.get(host);
    if ((asked !== undefined && now - asked < AGAIN_MS) || this.#waiting.size >= MOST_WAITING) return;
    this.#asked.set(host, now);
    this.#waiting.add(host);
    const [taker] = this.#takers;
    taker?.();
  }

  /** Some of the hosts, as soon as there are any; none after a while without. Any number may take at a time. */
  async take(): Promise<string[]> {
    if (this.#waiting.size === 0) await this.#woken();
    const taken = [...this.#waiting].slice(0, MOST_AT_ONCE);
    for (const host of taken) this.#waiting.delete(host);
    return taken;
  }

  #woken(): Promise<void> {
    return new Promise((resolve) => {
      const wake = () => {
        clearTimeout(timer);
        // One that has given up must not be woken in place of one that waits.
        this.#takers.delete(wake);
        resolve();
      };
      const timer = setTimeout(wake, LONGEST_WAIT_MS);
      timer.unref();
      this.#takers.add(wake);
    });
  }
}
