import { createHash } from 'node:crypto';
import type { Knex } from 'knex';
import { tell } from '../database/session.js';
import { hashPassword, isPassword } from '../people/password.js';

/** The names of the passcodes that are set. The passcodes themselves are kept as hashes alone. */
export async function passcodeNames(knex: Knex): Promise<string[]> {
  return (await knex('passcodes').select('name').orderBy('name')).map(({ name }) => name as string);
}

/** Sets a passcode; what was granted by the one before ends in every service. */
export async function setPasscode(knex: Knex, name: string, passcode: string): Promise<void> {
  const hash = await hashPassword(passcode);
  await knex('passcodes').insert({ name, hash }).onConflict('name').merge();
  await tell(knex, { type: 'grants' });
}

/** For each passcode a text that is another whenever it is set. */
export async function passcodeVersions(knex: Knex): Promise<Map<string, string>> {
  const rows = (await knex('passcodes').select('name', 'hash')) as { name: string; hash: string }[];
  return new Map(rows.map(({ name, hash }) => [name, createHash('sha256').update(hash).digest('base64url')]));
}

/** Whether it is the passcode of that name; never, where none is set. */
export async function isPasscode(knex: Knex, name: string, passcode: string): Promise<boolean> {
  const found = await knex('passcodes').where({ name }).first('hash');
  return isPassword(passcode, found?.hash ?? null);
}
