import { createHash, randomBytes } from 'node:crypto';
import { mkdirSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import type { Knex } from 'knex';
import { AccessKey, Session } from '../model/access.js';

const SESSION_HOURS = 12;

/** A key has 256 random bits, so a plain hash hides it as well as a slow one would. */
const hashOf = (secret: string): string => createHash('sha256').update(secret).digest('hex');
const newSecret = (): string => randomBytes(32).toString('base64url');

/**
 * Sees that there is an access key, and that its file holds it: made at the first start, or anew where asked. Answers
 * the new key, or undefined where the old one stays.
 */
export async function ensureKey(knex: Knex, file: string, anew: boolean): Promise<string | undefined> {
  const known = await AccessKey.query(knex).resultSize();
  if (known > 0 && !anew) return undefined;
  const key = newSecret();
  await knex.transaction(async (trx) => {
    await AccessKey.query(trx).delete();
    await Session.query(trx).delete();
    await AccessKey.query(trx).insert({ hash: hashOf(key) });
    mkdirSync(dirname(file), { recursive: true, mode: 0o700 });
    writeFileSync(file, `${key}\n`, { mode: 0o600 });
  });
  return key;
}

export async function isKey(knex: Knex, key: string): Promise<boolean> {
  return (
    (await AccessKey.query(knex)
      .where({ hash: hashOf(key) })
      .resultSize()) > 0
  );
}

/** Opens a session and answers its token. Sessions that have run out are cleared away. */
export async function openSession(knex: Knex): Promise<{ token: string; expiresAt: Date }> {
  const token = newSecret();
  const expiresAt = new Date(Date.now() + SESSION_HOURS * 3_600_000);
  await Session.query(knex).where('expiresAt', '<', new Date()).delete();
  await Session.query(knex).insert({ hash: hashOf(token), expiresAt });
  return { token, expiresAt };
}

export async function isSession(knex: Knex, token: string): Promise<boolean> {
  return (
    (await Session.query(knex)
      .where({ hash: hashOf(token) })
      .where('expiresAt', '>', new Date())
      .resultSize()) > 0
  );
}

export async function closeSession(knex: Knex, token: string): Promise<void> {
  await Session.query(knex)
    .where({ hash: hashOf(token) })
    .delete();
}
