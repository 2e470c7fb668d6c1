import type { Knex } from 'knex';
import { Person, Session } from '../model/person.js';
import { hashOfSecret, newSecret } from './secret.js';
import { type Someone, someoneOf } from './someone.js';

const SESSION_HOURS = 12;

/** Opens a session and answers its token. Sessions that have run out are cleared away. */
export async function openSession(knex: Knex, personId: number): Promise<{ token: string; expiresAt: Date }> {
  const token = newSecret();
  const expiresAt = new Date(Date.now() + SESSION_HOURS * 3_600_000);
  await Session.query(knex).where('expiresAt', '<', new Date()).delete();
  await Session.query(knex).insert({ hash: hashOfSecret(token), personId, expiresAt });
  return { token, expiresAt };
}

export async function whoHasSession(knex: Knex, token: string): Promise<Someone | undefined> {
  const session = await Session.query(knex)
    .findOne({ hash: hashOfSecret(token) })
    .where('expiresAt', '>', new Date());
  const person = session && (await Person.query(knex).findById(session.personId));
  return person && !person.disabled ? someoneOf(person) : undefined;
}

export async function closeSession(knex: Knex, token: string): Promise<void> {
  await Session.query(knex)
    .where({ hash: hashOfSecret(token) })
    .delete();
}

/** Ends all sessions of a person. */
export async function closeSessions(knex: Knex, personId: number): Promise<void> {
  await Session.query(knex).where({ personId }).delete();
}
