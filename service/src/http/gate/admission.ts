import { BoundedMap } from '@jade-fence/core/memo';
import type { Knex } from 'knex';
import { isDatabaseLost } from '../../database/faults.js';
import { refusal } from '../../fault/refusal.js';
import { hashOfSecret } from '../../people/secret.js';
import { isGatewayToken } from '../../people/tokens.js';

/** A token that was right is not looked up again for so long. */
const TOKEN_MS = 5000;
/** While the database is away, for so long. */
const TOKEN_LEFT_MS = 15 * 60_000;
const MOST_TOKENS = 1000;

/** Lets in who has a gateway's token. */
export class Admission {
  readonly #knex: Knex;
  readonly #until = new BoundedMap<string, number>(MOST_TOKENS);
  readonly #kept: ReadonlyMap<string, number>;

  /** `kept`: the hashes of tokens that are right while the database cannot be asked, and until when (milliseconds). */
  constructor(knex: Knex, kept: ReadonlyMap<string, number> = new Map()) {
    this.#knex = knex;
    this.#kept = kept;
  }

  /** Whether the header was right a moment ago. */
  knows(authorization: string | undefined): boolean {
    return (this.#until.get(authorization ?? '') ?? 0) > Date.now();
  }

  /** Throws a problem where the header holds no gateway's token. */
  async admit(authorization: string | undefined): Promise<void> {
    const given = authorization ?? '';
    if (this.knows(given)) return;
    const token = /^Bearer (\S{1,200})$/i.exec(given)?.[1];
    if (token === undefined || !(await this.#isRight(token, given))) throw refusal('gateway-token-required');
    this.#until.set(given, Date.now() + TOKEN_MS);
  }

  async #isRight(token: string, authorization: string): Promise<boolean> {
    // A site must not stop because the database does: a token that was valid lately is admitted until it can be checked.
    const wasLately = (this.#until.get(authorization) ?? 0) > Date.now() - TOKEN_LEFT_MS;
    try {
      return await isGatewayToken(this.#knex, token);
    } catch (error) {
      if (!isDatabaseLost(error)) throw error;
      if (wasLately) return true;
      if (this.#kept.size > 0) return (this.#kept.get(hashOfSecret(token)) ?? 0) > Date.now();
      throw error;
    }
  }
}
