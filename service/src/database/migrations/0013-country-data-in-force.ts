import type { Knex } from 'knex';

/** Country data is in force since it was loaded, or fetched back with a revision: the one that was so last. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.alterTable('country_data', (table) => {
    table.timestamp('in_force_at').notNullable().defaultTo(knex.raw('clock_timestamp()'));
  });
  await knex('country_data').update({ in_force_at: knex.ref('loaded_at') });
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.alterTable('country_data', (table) => table.dropColumns('in_force_at'));
}
