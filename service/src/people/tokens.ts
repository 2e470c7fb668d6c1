import type { Knex } from 'knex';
import { Problem } from '../http/problem.js';
import { Person, Token } from '../model/person.js';
import { mayAct, type Role } from './role.js';
import { hashOfSecret, newSecret } from './secret.js';
import { type Someone, someoneOf } from './someone.js';

/** The use of a token is noted at most so often, so that calls do not become writes. */
const NOTED_EVERY_MS = 60_000;
const MOST_TOKENS = 100;

/** Whose token it is; undefined where it is none, has run out, or its person is disabled. */
export async function whoHasToken(knex: Knex, secret: string): Promise<Someone | undefined> {
  const token = await Token.query(knex).findOne({ hash: hashOfSecret(secret) });
  if (!token || (token.expiresAt !== null && token.expiresAt <= new Date())) return undefined;
  const person = await Person.query(knex).findById(token.personId);
  if (!person || person.disabled) return undefined;
  if (token.usedAt === null || Date.now() - token.usedAt.getTime() > NOTED_EVERY_MS)
    await Token.query(knex).findById(token.id).patch({ usedAt: new Date() });
  return someoneOf(person, token.role);
}

export interface NewToken {
  readonly name: string;
  /** What it may do at most. */
  readonly role: Role;
  readonly expiresAt: Date | null;
}

/** Makes a token, and answers it with the key, which is told this once. */
export async function createToken(knex: Knex, owner: Someone, given: NewToken): Promise<Token & { secret: string }> {
  const { name, role, expiresAt } = given;
  if (!mayAct(owner.role, role))
    throw new Problem(403, 'role-too-high', `A token of yours can be ${owner.role} at most.`);
  if (expiresAt !== null && expiresAt <= new Date())
    throw new Problem(422, 'already-over', 'The token would have run out already.');
  const own = await tokensOf(knex, owner.id);
  if (own.some((each) => each.name === name))
    throw new Problem(409, 'token-exists', `There is a token \`${name}\` of yours already.`, {
      remedy: 'Delete it first, or take another name.',
    });
  if (own.length >= MOST_TOKENS)
    throw new Problem(409, 'too-many-tokens', `Nobody has more than ${MOST_TOKENS} tokens.`);
  const secret = newSecret();
  const kept = { personId: owner.id, name, hash: hashOfSecret(secret), role, expiresAt };
  const token = await Token.query(knex).insert(kept).returning('*');
  return Object.assign(token, { secret });
}

/** The tokens of one person, or of all. */
export async function tokensOf(knex: Knex, personId: number | undefined): Promise<Token[]> {
  const tokens = Token.query(knex).orderBy('id');
  return personId === undefined ? tokens : tokens.where({ personId });
}

/** Deletes a token of one's own; an administrator, anyone's. What is not one's own is as if it were not there. */
export async function deleteToken(knex: Knex, by: Someone, id: number): Promise<Token> {
  const token = await Token.query(knex).findById(id);
  if (!token || (token.personId !== by.id && !mayAct(by.role, 'administrator')))
    throw new Problem(404, 'unknown-token', `There is no token ${id} of yours.`);
  await Token.query(knex).deleteById(id);
  return token;
}
