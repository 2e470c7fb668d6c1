import { createHash, createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import type { Knex } from 'knex';

const NAME = 'grants';
const KEY_BYTES = 32;
/** So many leading bits of a hash have to be zero: a browser finds one in about a second. */
export const CHALLENGE_BITS = 16;
/** A challenge is another every so often. */
const CHALLENGE_MS = 10 * 60_000;
const MOST_GRANTS = 32;

/** What a grant says: that this client has met what the rule asks, until then. */
export interface Granted {
  /** `policy/rule`. */
  readonly rule: string;
  readonly client: string;
  /** Milliseconds since 1970. */
  readonly until: number;
}

/** Makes grants, and tells those that are ours: signed by a key of this database (HMAC-SHA-256, RFC 2104). */
export class Grants {
  readonly #key: Buffer;

  constructor(key: Buffer) {
    this.#key = key;
  }

  static async of(knex: Knex): Promise<Grants> {
    await knex('secrets')
      .insert({ name: NAME, value: randomBytes(KEY_BYTES) })
      .onConflict('name')
      .ignore();
    const [{ value }] = (await knex('secrets').where({ name: NAME }).select('value')) as [{ value: Buffer }];
    return new Grants(value);
  }

  make(granted: Granted): string {
    const said = Buffer.from(JSON.stringify([granted.rule, granted.client, granted.until])).toString('base64url');
    return `${said}.${this.#sign(said)}`;
  }

  /** The rules that the grants are for, as far as they are ours, the client's, and have not run out. */
  met(grants: readonly string[], client: string, now: number): string[] {
    return grants.slice(0, MOST_GRANTS).flatMap((grant) => {
      const [said = '', signature = ''] = grant.split('.');
      if (!same(signature, this.#sign(said))) return [];
      const [rule, whose, until] = JSON.parse(Buffer.from(said, 'base64url').toString()) as [string, string, number];
      return whose === client && until > now ? [rule] : [];
    });
  }

  /** What a client has to find a number for, so that the hash of both begins with zeros. */
  challenge(rule: string, client: string, now: number): string {
    return this.#sign(`challenge ${rule} ${client} ${Math.floor(now / CHALLENGE_MS)}`);
  }

  /** Whether the number is one; for the challenge before this one too, which may just have ended. */
  isSolved(rule: string, client: string, number: string, now: number): boolean {
    return [now, now - CHALLENGE_MS].some((at) => isSolution(this.challenge(rule, client, at), number));
  }

  #sign(text: string): string {
    return createHmac('sha256', this.#key).update(text).digest('base64url');
  }
}

function isSolution(seed: string, number: string): boolean {
  const hash = createHash('sha256').update(`${seed}:${number}`).digest();
  return hash.readUInt32BE(0) >>> (32 - CHALLENGE_BITS) === 0;
}

const same = (a: string, b: string): boolean =>
  a.length === b.length && timingSafeEqual(Buffer.from(a), Buffer.from(b));
