import type { Knex } from 'knex';

/** What chunks hold, so that filters look at few of them. Chunks of before have none, and are always looked at. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.alterTable('log_chunks', (table) => {
    table.jsonb('summary').nullable();
  });
  await knex.schema.alterTable('replay_chunks', (table) => {
    table.jsonb('summary').nullable();
    // Bloom filters of the clients.
    table.binary('four').nullable();
    table.binary('six').nullable();
  });
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.alterTable('log_chunks', (table) => table.dropColumns('summary'));
  await knex.schema.alterTable('replay_chunks', (table) => table.dropColumns('summary', 'four', 'six'));
}
