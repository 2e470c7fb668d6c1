import { createHash, createHmac, timingSafeEqual } from 'node:crypto';
import type { Knex } from 'knex';
import { replaceSecret, secretOf } from '../setting/secret.js';
import { passcodeVersions } from './passcodes.js';

const NAME = 'grants';
/** This many leading bits of a hash must be zero: a browser finds one in about a second. */
export const CHALLENGE_BITS = 16;
/** A challenge is another every so often. */
const CHALLENGE_MS = 10 * 60_000;
const MOST_GRANTS = 32;
const LONGEST = 8192;

/** What something was signed for. Each purpose has a key of its own, so that one never passes for another. */
type Purpose = 'grant' | 'challenge' | 'notice';

/** What a grant says: that this client has met what the rule asks, until then. */
export interface Granted {
  /** `policy/rule`. */
  readonly rule: string;
  readonly client: string;
  /** Milliseconds since 1970. */
  readonly until: number;
  /** The passcode that was given; setting it anew ends the grant. */
  readonly passcode?: string | undefined;
}

/** The key of grants, and the versions of passcodes, that the database has now. */
export async function grantSecrets(
  knex: Knex,
): Promise<{ readonly key: Buffer; readonly passcodes: ReadonlyMap<string, string> }> {
  return { key: await secretOf(knex, NAME), passcodes: await passcodeVersions(knex) };
}

/** Makes grants, and verifies those that are ours: signed by a key of this database (HMAC-SHA-256, RFC 2104). */
export class Grants {
  #key: Buffer;
  #passcodes: ReadonlyMap<string, string>;

  constructor(key: Buffer, passcodes: ReadonlyMap<string, string> = new Map()) {
    this.#key = key;
    this.#passcodes = passcodes;
  }

  static async of(knex: Knex): Promise<Grants> {
    const { key, passcodes } = await grantSecrets(knex);
    return new Grants(key, passcodes);
  }

  /** Takes the key and the versions of passcodes that the database has now. */
  async reload(knex: Knex): Promise<void> {
    const { key, passcodes } = await grantSecrets(knex);
    this.#key = key;
    this.#passcodes = passcodes;
  }

  make({ rule, client, until, passcode }: Granted): string {
    const version = passcode === undefined ? undefined : this.#passcodes.get(passcode);
    return this.seal('grant', [rule, client, until, passcode ?? null, version ?? null]);
  }

  /** The rules that the grants are for, as far as they are ours, the client's, and have not run out. */
  met(grants: readonly string[], client: string, now: number): string[] {
    return grants.slice(0, MOST_GRANTS).flatMap((grant) => {
      const said = this.open('grant', grant);
      if (!Array.isArray(said)) return [];
      const [rule, whose, until, passcode, version] = said as unknown[];
      const isCurrent = passcode === null || (version !== null && this.#passcodes.get(String(passcode)) === version);
      const holds = whose === client && typeof until === 'number' && until > now && isCurrent;
      return holds && typeof rule === 'string' ? [rule] : [];
    });
  }

  /** What a client has to find a number for, so that the hash of both begins with zeros. */
  challenge(rule: string, client: string, now: number): string {
    return this.#sign('challenge', JSON.stringify([rule, client, Math.floor(now / CHALLENGE_MS)]));
  }

  /** Whether the number is one; for the challenge before this one too, which may just have ended. */
  isSolved(rule: string, client: string, number: string, now: number): boolean {
    return [now, now - CHALLENGE_MS].some((at) => isSolution(this.challenge(rule, client, at), number));
  }

  /** A value as a text that only who has the key can make. */
  seal(purpose: Purpose, value: unknown): string {
    const said = Buffer.from(JSON.stringify(value)).toString('base64url');
    return `${said}.${this.#sign(purpose, said)}`;
  }

  /** The value that was sealed for the purpose; undefined for anything else, however it is malformed. */
  open(purpose: Purpose, sealed: string): unknown {
    const [said, signature, ...more] = sealed.length > LONGEST ? [] : sealed.split('.');
    if (said === undefined || signature === undefined || more.length > 0) return undefined;
    if (!same(signature, this.#sign(purpose, said))) return undefined;
    try {
      return JSON.parse(Buffer.from(said, 'base64url').toString());
    } catch {
      return undefined;
    }
  }

  #sign(purpose: Purpose, text: string): string {
    const key = createHmac('sha256', this.#key).update(purpose).digest();
    return createHmac('sha256', key).update(text).digest('base64url');
  }
}

/** Puts another key in the place of the one that there is: all grants end. */
export const rotateGrantKey = (knex: Knex): Promise<void> => replaceSecret(knex, NAME);

function isSolution(seed: string, number: string): boolean {
  const hash = createHash('sha256').update(`${seed}:${number}`).digest();
  return hash.readUInt32BE(0) >>> (32 - CHALLENGE_BITS) === 0;
}

/** Whether two texts are the same, in a time that does not depend on where they differ. */
function same(a: string, b: string): boolean {
  const [one, other] = [Buffer.from(a), Buffer.from(b)];
  return one.length === other.length && timingSafeEqual(one, other);
}
