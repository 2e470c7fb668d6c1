import type { Knex } from 'knex';
import { hashPassword, isPassword } from '../people/password.js';

/** The names of the passcodes that are set. The passcodes themselves are kept as hashes alone. */
export async function passcodeNames(knex: Knex): Promise<string[]> {
  return (await knex('passcodes').select('name').orderBy('name')).map(({ name }) => name as string);
}

export async function setPasscode(knex: Knex, name: string, passcode: string): Promise<void> {
  const hash = await hashPassword(passcode);
  await knex('passcodes').insert({ name, hash }).onConflict('name').merge();
}

/** Whether it is the passcode of that name; never, where none is set. */
export async function isPasscode(knex: Knex, name: string, passcode: string): Promise<boolean> {
  const found = await knex('passcodes').where({ name }).first('hash');
  return isPassword(passcode, found?.hash ?? null);
}
