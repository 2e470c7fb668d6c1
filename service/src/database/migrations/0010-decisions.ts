import type { Knex } from 'knex';

/** Live decisions that rules ask to be recorded, as far as they are kept. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.createTable('decisions', (table) => {
    table.bigIncrements('id');
    table.timestamp('at').notNullable();
    table.integer('revision').notNullable();
    table.text('policy');
    table.text('rule');
    table.text('verdict').notNullable();
    table.text('effect').notNullable();
    table.text('record').notNullable();
    // The request as it may be shown, with its client and country.
    table.jsonb('told').notNullable();
    table.index(['policy', 'rule']);
  });
  await knex.schema.createTable('passcodes', (table) => {
    table.text('name').primary();
    table.text('hash').notNullable();
  });
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.dropTable('passcodes');
  await knex.schema.dropTable('decisions');
}
