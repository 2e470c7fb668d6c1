import { mkdirSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import type { Knex } from 'knex';
import { note } from '../audit/audit.js';
import { Person, Token } from '../model/person.js';
import { lockPeople } from './people.js';
import { hashOfSecret, newSecret } from './secret.js';
import { closeSessions } from './sessions.js';

const FIRST = 'administrator';
const KEY = 'access-key';

/**
 * Sees that there is someone to begin with: at the first start a person `administrator` is made with a token, the
 * access key, whose file is written. Makes the key anew where that is asked. Answers the new key, or undefined where
 * the old one stays.
 */
export async function ensureAccessKey(knex: Knex, file: string, anew: boolean): Promise<string | undefined> {
  return knex.transaction(async (trx) => {
    // Of several services that start on an empty database the first makes it.
    await lockPeople(trx);
    const known = await Person.query(trx).resultSize();
    if (known > 0 && !anew) return undefined;
    const secret = newSecret();
    const first =
      (await Person.query(trx).findOne({ name: FIRST })) ??
      (await Person.query(trx).insert({ name: FIRST, role: 'administrator', disabled: false }).returning('*'));
    // Whoever may start the service with a new key may open it.
    await Person.query(trx).findById(first.id).patch({ role: 'administrator', disabled: false });
    await Token.query(trx).where({ personId: first.id, name: KEY }).delete();
    await closeSessions(trx, first.id);
    await Token.query(trx).insert({
      ...{ personId: first.id, name: KEY, hash: hashOfSecret(secret) },
      ...{ role: 'administrator', expiresAt: null },
    });
    await note(trx, [{ actor: null, action: 'access-key-made', kind: 'person', name: FIRST }]);
    mkdirSync(dirname(file), { recursive: true, mode: 0o700 });
    writeFileSync(file, `${secret}\n`, { mode: 0o600 });
    return secret;
  });
}
