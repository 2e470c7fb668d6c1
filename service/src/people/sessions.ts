import type { Knex } from 'knex';
import { type Page, type PageAsked, pageOf } from '../database/page.js';
import { Person, Session, Token } from '../model/person.js';
import { hashOfSecret, newSecret } from './secret.js';
import { type Someone, someoneOf } from './someone.js';

const SESSION_HOURS = 12;
/** A session that nobody has used for so long is over. */
const IDLE_MS = 2 * 3_600_000;
const NOTED_EVERY_MS = 60_000;
const LONGEST_AGENT = 300;

/** Where a session is opened from, and with what. */
export interface Opening {
  readonly from: string;
  readonly agent: string;
  /** The token that it is opened with; the session ends with it. */
  readonly tokenId?: number | undefined;
}

/** Opens a session and answers its token. Sessions that have run out are cleared away. */
export async function openSession(
  knex: Knex,
  personId: number,
  { from, agent, tokenId }: Opening,
): Promise<{ token: string; expiresAt: Date }> {
  const token = newSecret();
  const expiresAt = new Date(Date.now() + SESSION_HOURS * 3_600_000);
  await Session.query(knex).where('expiresAt', '<', new Date()).orWhere('usedAt', '<', idleSince()).delete();
  await Session.query(knex).insert({
    ...{ hash: hashOfSecret(token), personId, expiresAt, from, tokenId: tokenId ?? null },
    agent: agent.slice(0, LONGEST_AGENT),
  });
  return { token, expiresAt };
}

/** Who a session's token belongs to; undefined where the session is over, or was never there. */
export async function whoHasSession(knex: Knex, token: string): Promise<Someone | undefined> {
  const session = await Session.query(knex)
    .findOne({ hash: hashOfSecret(token) })
    .where('expiresAt', '>', new Date())
    .where('usedAt', '>', idleSince());
  const person = session && (await Person.query(knex).findById(session.personId));
  if (!session || !person || person.disabled) return undefined;
  if (session.tokenId !== null && (await hasRunOut(knex, session.tokenId))) return undefined;
  if (Date.now() - session.usedAt.getTime() > NOTED_EVERY_MS)
    await Session.query(knex).findById(session.hash).patch({ usedAt: new Date() });
  return someoneOf(person);
}

async function hasRunOut(knex: Knex, tokenId: number): Promise<boolean> {
  const token = await Token.query(knex).findById(tokenId);
  return !token || (token.expiresAt !== null && token.expiresAt <= new Date());
}

const idleSince = (): Date => new Date(Date.now() - IDLE_MS);

/** A person's sessions that are not over, the newest first. */
export function sessionsOf(knex: Knex, personId: number, page: PageAsked<number>): Promise<Page<Session, number>> {
  const open = Session.query(knex)
    .where({ personId })
    .where('expiresAt', '>', new Date())
    .where('usedAt', '>', idleSince());
  return pageOf(open, 'id', 'desc', page);
}

/** Ends the session of the token, or the person's of the number; answers whether there was one. */
export async function closeSession(knex: Knex, which: string | { personId: number; id: number }): Promise<boolean> {
  const sessions = Session.query(knex).where(typeof which === 'string' ? { hash: hashOfSecret(which) } : which);
  return (await sessions.delete()) > 0;
}

/** Ends all sessions of a person. */
export async function closeSessions(knex: Knex, personId: number): Promise<number> {
  return Session.query(knex).where({ personId }).delete();
}
