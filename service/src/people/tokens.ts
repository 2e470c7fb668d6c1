import { mayAct, type Role } from '@jade-fence/contract';
import type { Knex } from 'knex';
import { type Page, type PageAsked, pageOf } from '../database/page.js';
import { refusal } from '../fault/refusal.js';
import { Person, Token } from '../model/person.js';
import { lockPeople, requireAdministrator } from './people.js';
import { hashOfSecret, newSecret } from './secret.js';
import { type Someone, someoneOf } from './someone.js';

/** The use of a token is noted at most so often, so that calls do not become writes. */
const NOTED_EVERY_MS = 60_000;
const MOST_TOKENS = 100;
const LONGEST_LIFE_MS = 366 * 86_400_000;

/** Whose token it is; undefined where it is none, has run out, or its person is disabled. */
export async function whoHasToken(knex: Knex, secret: string): Promise<Someone | undefined> {
  const token = await validToken(knex, secret, 'person');
  const person = token && (await Person.query(knex).findById(token.personId as number));
  if (!token || !person || person.disabled) return undefined;
  return { ...someoneOf(person, token.role), token: { id: token.id, expiresAt: token.expiresAt } };
}

/** Whether it is the token of a gateway. Such a token opens nothing but live decisions, and no other token opens those. */
export async function isGatewayToken(knex: Knex, secret: string): Promise<boolean> {
  return (await validToken(knex, secret, 'gateway')) !== undefined;
}

async function validToken(knex: Knex, secret: string, kind: Token['kind']): Promise<Token | undefined> {
  const token = await Token.query(knex).findOne({ hash: hashOfSecret(secret), kind });
  if (!token || (token.expiresAt !== null && token.expiresAt <= new Date())) return undefined;
  if (token.usedAt === null || Date.now() - token.usedAt.getTime() > NOTED_EVERY_MS)
    await Token.query(knex).findById(token.id).patch({ usedAt: new Date() });
  return token;
}

export interface NewToken {
  readonly name: string;
  readonly kind: Token['kind'];
  /** What it may do at most; of a gateway's it means nothing. */
  readonly role: Role;
  readonly expiresAt: Date;
}

/** Makes a token, and returns it with its key, which is shown this once. */
export async function createToken(knex: Knex, owner: Someone, given: NewToken): Promise<Token & { secret: string }> {
  const { name, kind, role, expiresAt } = given;
  const isGateway = kind === 'gateway';
  if (isGateway && !mayAct(owner.role, 'administrator')) throw refusal('role-too-low/gateway-tokens');
  if (!isGateway && !mayAct(owner.role, role)) throw refusal('role-too-high', { role: owner.role });
  requireLife(owner, expiresAt);
  const own = await Token.query(knex).where(isGateway ? { kind } : { kind, personId: owner.id });
  if (own.some((each) => each.name === name))
    throw refusal('token-exists', { name, owner: isGateway ? 'a gateway' : 'yours' });
  if (own.length >= MOST_TOKENS) throw refusal('too-many-tokens', { most: MOST_TOKENS });
  const secret = newSecret();
  const personId = isGateway ? null : owner.id;
  const token = await Token.query(knex)
    .insert({ personId, kind, name, hash: hashOfSecret(secret), role: isGateway ? 'viewer' : role, expiresAt })
    .returning('*');
  return Object.assign(token, { secret });
}

/** A token lives a year at most, and no longer than the one that made it. */
function requireLife({ token }: Someone, expiresAt: Date): void {
  if (expiresAt <= new Date()) throw refusal('already-over');
  if (expiresAt.getTime() > Date.now() + LONGEST_LIFE_MS) throw refusal('too-long');
  if (token?.expiresAt && expiresAt > token.expiresAt) throw refusal('longer-than-own');
}

/** The tokens of one person; or of all, those of gateways too. */
export function tokensOf(
  knex: Knex,
  personId: number | undefined,
  page: PageAsked<number>,
): Promise<Page<Token, number>> {
  const tokens = Token.query(knex);
  return pageOf(personId === undefined ? tokens : tokens.where({ personId }), 'id', 'asc', page);
}

/**
 * Deletes a token of one's own that may do no more than what one calls with; an administrator, any. What may not be
 * deleted is as if it were not there. The last way in of the last administrator stays.
 */
export async function deleteToken(trx: Knex.Transaction, by: Someone, id: number): Promise<Token> {
  await lockPeople(trx);
  const token = await Token.query(trx).findById(id);
  const isOwn = token !== undefined && token.personId === by.id && mayAct(by.role, token.role);
  if (!token || !(isOwn || mayAct(by.role, 'administrator'))) throw refusal('unknown-token', { id });
  await Token.query(trx).deleteById(id);
  await requireAdministrator(trx);
  return token;
}
