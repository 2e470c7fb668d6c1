import type { Knex } from 'knex';

/** A right of its own: to ask about addresses where policies tell these by pseudonyms. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.alterTable('people', (table) => {
    table.boolean('sees_addresses').notNullable().defaultTo(false);
  });
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.alterTable('people', (table) => table.dropColumn('sees_addresses'));
}
