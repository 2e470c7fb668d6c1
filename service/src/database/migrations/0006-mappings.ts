import type { Knex } from 'knex';

/** How the columns of logs are taken, kept by name. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.createTable('mappings', (table) => {
    table.text('name').primary();
    table.jsonb('columns').notNullable();
    table.text('zone').nullable();
    table.timestamp('saved_at').notNullable().defaultTo(knex.fn.now());
  });
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.dropTable('mappings');
}
