import { RateLimiterMemory, RateLimiterRes } from 'rate-limiter-flexible';
import { Problem } from '../http/problem.js';

const SPAN_SECONDS = 15 * 60;
/** So many sign-ins may fail in the span. For a name alone it is many, so that a stranger does not shut its owner out. */
const MOST_FAILURES = { nameFromAddress: 10, address: 50, name: 200 };

/** Slows down who guesses passwords. Each service counts for itself. */
export class SignInThrottle {
  readonly #byBoth = new RateLimiterMemory({ points: MOST_FAILURES.nameFromAddress, duration: SPAN_SECONDS });
  readonly #byAddress = new RateLimiterMemory({ points: MOST_FAILURES.address, duration: SPAN_SECONDS });
  readonly #byName = new RateLimiterMemory({ points: MOST_FAILURES.name, duration: SPAN_SECONDS });

  /** Takes one try; refuses it where too many have failed. */
  async take(name: string, address: string): Promise<void> {
    try {
      await this.#byAddress.consume(address);
      await this.#byBoth.consume(`${address} ${name}`);
      await this.#byName.consume(name);
    } catch (refused) {
      if (!(refused instanceof RateLimiterRes)) throw refused;
      const seconds = Math.ceil(refused.msBeforeNext / 1000);
      throw new Problem(429, 'too-many-tries', 'Too many sign-ins have failed.', {
        remedy: `Try again in ${Math.ceil(seconds / 60)} minutes.`,
        headers: { 'retry-after': String(seconds) },
      });
    }
  }

  /** A try that went well does not count. */
  async wentWell(name: string, address: string): Promise<void> {
    await this.#byBoth.delete(`${address} ${name}`);
    await this.#byName.delete(name);
    await this.#byAddress.reward(address);
  }
}
