import type { Knex } from 'knex';

/** Bloom filters of the paths of chunks, so that who asks for one path looks at few of them. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.alterTable('log_chunks', (table) => {
    table.binary('paths').nullable();
  });
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.alterTable('log_chunks', (table) => table.dropColumns('paths'));
}
