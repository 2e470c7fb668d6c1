import { createHash } from 'node:crypto';
import type { Knex } from 'knex';
import { type Page, type PageAsked, pageOf } from '../database/page.js';
import { notify } from '../database/session.js';
import { Passcode } from '../model/passcode.js';
import { hashPassword, isPassword } from '../people/password.js';

/** The names of the passcodes that are set. The passcodes themselves are kept as hashes alone. */
export function pageOfPasscodes(knex: Knex, page: PageAsked<string>): Promise<Page<Passcode, string>> {
  return pageOf(Passcode.query(knex).select('name'), 'name', 'asc', page);
}

/** Sets a passcode; what was granted by the one before ends in every service. */
export async function setPasscode(knex: Knex, name: string, passcode: string): Promise<void> {
  const hash = await hashPassword(passcode);
  await Passcode.query(knex).insert({ name, hash }).onConflict('name').merge();
  await notify(knex, { type: 'grants' });
}

/** For each passcode a text that is another whenever it is set. */
export async function passcodeVersions(knex: Knex): Promise<Map<string, string>> {
  const rows = await Passcode.query(knex);
  return new Map(rows.map(({ name, hash }) => [name, createHash('sha256').update(hash).digest('base64url')]));
}

/** Whether it is the passcode of that name; never, where none is set. */
export async function isPasscode(knex: Knex, name: string, passcode: string): Promise<boolean> {
  const found = await Passcode.query(knex).findById(name);
  return isPassword(passcode, found?.hash ?? null);
}
