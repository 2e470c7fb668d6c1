import type { Knex } from 'knex';

/** The key that pseudonyms are made with, and what logs were stored without. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.createTable('secrets', (table) => {
    table.text('name').primary();
    table.binary('value').notNullable();
  });
  await knex.schema.alterTable('logs', (table) => {
    table.jsonb('redacted').notNullable().defaultTo('[]');
  });
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.alterTable('logs', (table) => table.dropColumns('redacted'));
  await knex.schema.dropTable('secrets');
}
