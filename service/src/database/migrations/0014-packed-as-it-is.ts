import type { Knex } from 'knex';

/** What is packed already: PostgreSQL would only try in vain to compress it, each time that some is written. */
const PACKED: Readonly<Record<string, readonly string[]>> = {
  log_chunks: ['data', 'paths'],
  replay_chunks: ['data', 'four', 'six'],
};

/** Holds for what is written from now on; what is stored stays readable as it is. */
export const up = (knex: Knex): Promise<void> => storeAs(knex, 'EXTERNAL');
export const down = (knex: Knex): Promise<void> => storeAs(knex, 'EXTENDED');

async function storeAs(knex: Knex, storage: string): Promise<void> {
  for (const [table, columns] of Object.entries(PACKED))
    for (const column of columns)
      await knex.raw(`ALTER TABLE ?? ALTER COLUMN ?? SET STORAGE ${storage}`, [table, column]);
}
