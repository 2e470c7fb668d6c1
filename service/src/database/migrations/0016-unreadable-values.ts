import type { Knex } from 'knex';

/** Values of a log that could not be read, and left their fields unseen: how many, by `field code`. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.alterTable('logs', (table) => {
    table.jsonb('unreadable').notNullable().defaultTo('{}');
  });
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.alterTable('logs', (table) => {
    table.dropColumn('unreadable');
  });
}
