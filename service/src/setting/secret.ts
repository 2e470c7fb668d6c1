import { randomBytes } from 'node:crypto';
import type { Knex } from 'knex';
import { Secret } from '../model/secret.js';

const KEY_BYTES = 32;

/** The key of a name, of 32 bytes; made on first use. When several services make one at once, the first one counts. */
export async function secretOf(knex: Knex, name: string): Promise<Buffer> {
  const known = await Secret.query(knex).findById(name);
  if (known) return known.value;
  await Secret.query(knex)
    .insert({ name, value: randomBytes(KEY_BYTES) })
    .onConflict('name')
    .ignore();
  return (await Secret.query(knex).findById(name).throwIfNotFound()).value;
}

/** Puts another key in the place of the one that there is. */
export async function replaceSecret(knex: Knex, name: string): Promise<void> {
  await Secret.query(knex)
    .insert({ name, value: randomBytes(KEY_BYTES) })
    .onConflict('name')
    .merge();
}
