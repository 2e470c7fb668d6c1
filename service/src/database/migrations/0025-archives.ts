import type { Knex } from 'knex';

/** Logs may come in archives, files of which may be damaged. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.alterTable('logs', (table) => {
    table.jsonb('damaged_files').notNullable().defaultTo('[]');
  });
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.alterTable('logs', (table) => {
    table.dropColumn('damaged_files');
  });
}
