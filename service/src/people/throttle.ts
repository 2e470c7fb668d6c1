import { createHash } from 'node:crypto';
import { type Address, formatAddress, networkOf, parseAddress } from '@jade-fence/core/address';
import type { Knex } from 'knex';
import { RateLimiterMemory, RateLimiterPostgres, RateLimiterRes } from 'rate-limiter-flexible';
import { refusal } from '../fault/refusal.js';

const SPAN_SECONDS = 15 * 60;
/** For so long an address that a name has signed in from is not held up by what others try with the name. */
const KNOWN_SECONDS = 30 * 86_400;
/** This many tries may fail in the span. A name alone gets many, so that a stranger does not lock its owner out. */
const MOST_FAILURES = { nameFromAddress: 10, address: 50, name: 200 };
const SITE_6 = 64;

/** Slows down who guesses passwords and passcodes. All services on the database count together. */
export class SignInThrottle {
  readonly #byBoth: RateLimiterPostgres;
  readonly #byAddress: RateLimiterPostgres;
  readonly #byName: RateLimiterPostgres;
  readonly #known: RateLimiterPostgres;

  constructor(knex: Knex) {
    const limiter = (keyPrefix: string, points: number, duration = SPAN_SECONDS) =>
      new RateLimiterPostgres({
        ...{
          storeClient: knex,
          storeType: 'knex',
          tableName: 'tries',
          tableCreated: true,
          keyPrefix,
          points,
          duration,
        },
        clearExpiredByTimeout: false,
        // While the database is away nobody can sign in, but passcodes of live decisions are tried.
        insuranceLimiter: new RateLimiterMemory({ points, duration }),
      });
    this.#byBoth = limiter('both', MOST_FAILURES.nameFromAddress);
    this.#byAddress = limiter('address', MOST_FAILURES.address);
    this.#byName = limiter('name', MOST_FAILURES.name);
    this.#known = limiter('known', 1_000_000, KNOWN_SECONDS);
  }

  /** Takes one try; refuses it where too many have failed. */
  async take(name: string, from: string): Promise<void> {
    const [both, address] = [keyOf(name, sourceOf(from)), keyOf(sourceOf(from))];
    try {
      await this.#byAddress.consume(address);
      await this.#byBoth.consume(both);
      if ((await this.#known.get(both)) === null) await this.#byName.consume(keyOf(name));
    } catch (refused) {
      if (!(refused instanceof RateLimiterRes)) throw refused;
      const seconds = Math.ceil(refused.msBeforeNext / 1000);
      throw refusal('too-many-tries', { minutes: Math.ceil(seconds / 60) }, { retryAfter: seconds });
    }
  }

  /** A try that went well does not count. */
  async wentWell(name: string, from: string): Promise<void> {
    const both = keyOf(name, sourceOf(from));
    await this.#byBoth.delete(both);
    await this.#byAddress.reward(keyOf(sourceOf(from)));
    if ((await this.#known.get(both)) === null) await this.#byName.reward(keyOf(name));
    await this.#known.set(both, 1, KNOWN_SECONDS);
  }
}

/** Lets go of what is counted no more. */
export async function clearTries(knex: Knex): Promise<void> {
  await knex('tries').where('expire', '<', Date.now()).delete();
}

/** The address, or the network that one site of IPv6 commonly has, which one client can change within at will. */
export function sourceOf(text: string): string {
  const address: Address | undefined = parseAddress(text);
  if (address === undefined) return text;
  return formatAddress(address.family === 4 ? address : networkOf(address, SITE_6).first);
}

/** Names come from outside and may be long; keys of the table are not. */
const keyOf = (...parts: readonly string[]): string =>
  createHash('sha256').update(JSON.stringify(parts)).digest('base64url');
